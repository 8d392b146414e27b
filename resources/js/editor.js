// The SQL editor: CodeMirror over the textarea, which stays what the form sends.
import { closeBrackets, closeBracketsKeymap, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { MariaSQL, sql } from '@codemirror/lang-sql';
import { bracketMatching, HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { StateEffect, StateField } from '@codemirror/state';
import { Decoration, drawSelection, EditorView, keymap, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { watchAsks } from './ask/asks.js';
import { watchBuilding } from './ask/build.js';
import { completes } from './ask/completion.js';
import { keepsDrafts } from './ask/drafts.js';
import { watchExports } from './ask/exports.js';
import { watchGrids } from './ask/grid.js';
import { watchPictures } from './ask/pictures.js';
import { watchStop } from './ask/stop.js';
import { remembersUndo, stateOf } from './ask/undo.js';
import { on } from './events.js';
import { token } from './session.js';

const look = HighlightStyle.define([
    { tag: tags.keyword, color: '#176b74', fontWeight: '700' },
    { tag: [tags.string, tags.special(tags.string)], color: '#2b5d7a' },
    { tag: tags.number, color: '#7d4f00' },
    { tag: tags.comment, color: '#6d736c', fontStyle: 'italic' },
]);

// What the database did not understand is underlined until the text changes.
const mark = StateEffect.define();
const wrong = StateField.define({
    create: () => Decoration.none,
    update: (marks, change) => {
        for (const effect of change.effects) {
            if (effect.is(mark)) return effect.value === null ? Decoration.none : Decoration.set([Decoration.mark({ class: 'wrong' }).range(...effect.value)]);
        }
        return change.docChanged ? Decoration.none : marks;
    },
    provide: (field) => EditorView.decorations.from(field),
});

const list = EditorView.theme({
    '.cm-tooltip': { background: 'var(--color-chalk)', border: '1px solid var(--color-edge)', borderRadius: '6px', overflow: 'hidden' },
    '.cm-tooltip.cm-tooltip-autocomplete > ul': { fontFamily: 'var(--font-mono)', fontSize: '12.5px', maxHeight: '15em' },
    '.cm-tooltip-autocomplete ul li[aria-selected]': { background: 'var(--color-mist)', color: 'var(--color-ink)' },
    '.cm-completionDetail': { fontStyle: 'normal', fontFamily: 'var(--font-body)', color: 'var(--color-silt)' },
    '.cm-completionIcon': { color: 'var(--color-water)' },
});

const bytes = (text) => new TextEncoder().encode(text).length;

const edits = (area, form) => {
    const cursor = document.getElementById('cursor');
    let changed = () => {};
    const view = new EditorView({
        parent: area.parentElement,
        state: stateOf(form, {
            doc: area.value,
            extensions: [
                EditorView.cspNonce.of(document.querySelector('meta[name=csp-nonce]').content),
                lineNumbers(), history(), drawSelection(), bracketMatching(), closeBrackets(), completes(form.dataset.completeUrl), wrong, list,
                sql({ dialect: MariaSQL, upperCaseKeywords: false }),
                syntaxHighlighting(look),
                keymap.of([
                    { key: 'Mod-Enter', run: () => { document.querySelector('[data-go]').click(); return true; } },
                    ...closeBracketsKeymap, ...completionKeymap, ...historyKeymap, ...defaultKeymap,
                ]),
                EditorView.lineWrapping,
                EditorView.contentAttributes.of({ 'aria-label': 'SQL' }),
                EditorView.updateListener.of((update) => {
                    if (update.selectionSet || update.docChanged) cursor.value = bytes(update.state.sliceDoc(0, update.state.selection.main.head));
                    if (!update.docChanged) return;
                    area.value = update.state.doc.toString();
                    changed();
                }),
            ],
        }),
    });
    area.hidden = true;
    window.sqlEditor = view;
    const drafts = keepsDrafts(form, () => view.state.doc.toString());
    const undo = remembersUndo(form, view);
    changed = () => { drafts(); undo(); };

    return view;
};

const area = document.querySelector('textarea[data-sql]');
if (area) {
    const form = area.closest('form');
    const view = edits(area, form);
    const put = (text, from, to) => {
        view.dispatch({ changes: { from, to, insert: text }, selection: { anchor: from + text.length } });
        view.focus();
    };
    on('click', '[data-insert]', (event, button) => {
        const { from, to } = view.state.selection.main;
        put(button.dataset.insert, from, to);
    });
    // Behind what is there, as a statement of its own.
    on('click', '[data-insert-below]', (event, button) => {
        const all = view.state.doc.toString().replace(/[;\s]*$/, '');
        put(`${all};\n\n${button.dataset.insertBelow}`, 0, view.state.doc.length);
    });
    on('htmx:load', null, (event) => {
        const fault = event.detail.elt.matches?.('[data-fault]') ? event.detail.elt : event.detail.elt.querySelector?.('[data-fault]');
        const from = Number(fault?.dataset.at ?? NaN);
        const to = from + Number(fault?.dataset.length ?? 0);
        if (fault && from >= 0 && to <= view.state.doc.length && to > from) view.dispatch({ effects: [mark.of([from, to]), EditorView.scrollIntoView(from)] });
    });
    on('htmx:beforeRequest', '[data-go]', () => view.dispatch({ effects: mark.of(null) }));
    on('click', '[data-replace]', (event, button) => {
        const { at, length } = button.closest('[data-fault]').dataset;
        put(button.dataset.replace, Number(at), Number(at) + Number(length));
        document.querySelector('[data-go]').click();
    });
    on('click', '#tidy', async () => {
        const answer = await fetch(form.dataset.tidyUrl, { method: 'POST', headers: token(), body: new URLSearchParams({ sql: view.state.doc.toString() }) });
        if (answer.ok) put(await answer.text(), 0, view.state.doc.length);
    });
    on('input', '[data-filter]', (event, field) => {
        const words = field.value.toLowerCase().split(/\s+/);
        document.querySelectorAll(field.dataset.filter).forEach((one) => { one.hidden = !words.every((word) => one.dataset.filtered.toLowerCase().includes(word)); });
        document.querySelectorAll('[data-filter-group]').forEach((group) => { group.hidden = !group.querySelector('[data-filtered]:not([hidden])'); });
    });
    watchGrids();
    watchExports();
    watchPictures();
    watchStop();
    watchBuilding(view);
    watchAsks(form, () => view.state.doc.toString());
}

// Parts of a form that only matter with some choice.
const showWhen = () => document.querySelectorAll('[data-when]').forEach((part) => {
    const [name, value] = part.dataset.when.split('=');
    const chosen = document.querySelector(`[name="${name}"]:checked, select[name="${name}"]`);
    part.hidden = chosen?.value !== value;
});
on('change', '#kept [name]', showWhen);
on('htmx:load', null, showWhen);
showWhen();
