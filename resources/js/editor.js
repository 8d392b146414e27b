// The SQL editor: CodeMirror over the textarea, which stays what the form sends.
import { autocompletion, closeBrackets, closeBracketsKeymap, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { MariaSQL, sql } from '@codemirror/lang-sql';
import { bracketMatching, HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { EditorState } from '@codemirror/state';
import { drawSelection, EditorView, keymap, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { on } from './events.js';

const look = HighlightStyle.define([
    { tag: tags.keyword, color: '#176b74', fontWeight: '700' },
    { tag: [tags.string, tags.special(tags.string)], color: '#2b5d7a' },
    { tag: tags.number, color: '#7d4f00' },
    { tag: tags.comment, color: '#6d736c', fontStyle: 'italic' },
]);

const area = document.querySelector('textarea[data-sql]');
if (area) {
    const schema = JSON.parse(document.getElementById('tables-known').textContent);
    const view = new EditorView({
        parent: area.parentElement,
        state: EditorState.create({
            doc: area.value,
            extensions: [
                EditorView.cspNonce.of(document.querySelector('meta[name=csp-nonce]').content),
                lineNumbers(), history(), drawSelection(), bracketMatching(), closeBrackets(), autocompletion(),
                sql({ dialect: MariaSQL, schema, upperCaseKeywords: false }),
                syntaxHighlighting(look),
                keymap.of([
                    { key: 'Mod-Enter', run: () => { document.querySelector('[data-go]').click(); return true; } },
                    ...closeBracketsKeymap, ...completionKeymap, ...historyKeymap, ...defaultKeymap,
                ]),
                EditorView.lineWrapping,
                EditorView.contentAttributes.of({ 'aria-label': 'SQL' }),
                EditorView.updateListener.of((update) => { if (update.docChanged) area.value = update.state.doc.toString(); }),
            ],
        }),
    });
    area.hidden = true;
    window.sqlEditor = view;
    on('click', '[data-insert]', (event, button) => {
        view.dispatch(view.state.replaceSelection(button.dataset.insert));
        view.focus();
    });
}
