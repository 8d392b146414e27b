// What was typed can be undone also after going away: the steps are remembered by the browser, for the text they belong to.
import { historyField } from '@codemirror/commands';
import { EditorState } from '@codemirror/state';

const LONGEST = 300000;
const KEPT = 20;
const PREFIX = 'undo ';

const keyOf = (form) => {
    const draft = document.getElementById('draft').value;
    if (form.dataset.query) return `${PREFIX}query ${form.dataset.query}`;
    return draft ? `${PREFIX}draft ${draft}` : null;
};

/**
 * The state of an editor with the steps that led to its text, where they are known.
 *
 * @param {HTMLFormElement} form
 * @param {{doc: string, extensions: object[]}} config
 */
export const stateOf = (form, config) => {
    try {
        const { state } = JSON.parse(localStorage.getItem(keyOf(form)) ?? '{}');
        if (state?.doc === config.doc) return EditorState.fromJSON(state, { extensions: config.extensions }, { history: historyField });
    } catch { /* begun anew */ }
    return EditorState.create(config);
};

/**
 * @param {HTMLFormElement} form
 * @param {import('@codemirror/view').EditorView} view
 */
export const remembersUndo = (form, view) => {
    const keep = () => {
        const key = keyOf(form);
        if (key === null) return;
        try {
            const text = JSON.stringify({ at: Date.now(), state: view.state.toJSON({ history: historyField }) });
            if (text.length > LONGEST) localStorage.removeItem(key);
            else localStorage.setItem(key, text);
            const old = Object.keys(localStorage).filter((name) => name.startsWith(PREFIX)).map((name) => [JSON.parse(localStorage.getItem(name)).at, name]).sort((a, b) => b[0] - a[0]);
            old.slice(KEPT).forEach(([, name]) => localStorage.removeItem(name));
        } catch { /* nothing is remembered, and that is all */ }
    };
    addEventListener('pagehide', keep);
    let clock;
    return () => { clearTimeout(clock); clock = setTimeout(keep, 1500); };
};
