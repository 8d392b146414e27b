// A statement put together by picking: each step is sent with the text, and comes back as the text it makes.
import { isolateHistory } from '@codemirror/commands';
import { on } from '../events.js';

const QUIET = 500;
const bytes = (text) => new TextEncoder().encode(text).length;

/**
 * @param {import('@codemirror/view').EditorView} view
 */
export const watchBuilding = (view) => {
    const place = document.getElementById('building');
    if (!place) return;
    let sent = null;
    let clock;
    const text = () => view.state.doc.toString();
    const ask = (values = {}) => {
        clearTimeout(clock);
        sent = text();
        return window.htmx.ajax('POST', document.getElementById('build').dataset.url, {
            target: '#build', swap: 'outerHTML', values: { sql: sent, cursor: bytes(view.state.sliceDoc(0, view.state.selection.main.head)), ...values },
        });
    };

    // Fields of the row that a step is in, and of the one it is made by.
    const fields = (element) => {
        const found = [...(element.closest('[data-build-group]')?.querySelectorAll('[data-build-field]') ?? [])];
        if (element.dataset.buildField && !found.includes(element)) found.push(element);
        const all = Object.fromEntries(found.filter((one) => one.type !== 'checkbox').map((one) => [one.dataset.buildField, one.value]));
        if (element.type === 'checkbox') all[element.dataset.buildField] = element.checked ? element.value : '0';
        return all;
    };
    const take = (element, more = {}) => {
        const step = { ...JSON.parse(element.dataset.build), ...fields(element), ...more };
        const focus = element.getAttribute('aria-label');
        ask(Object.fromEntries(Object.entries(step).map(([name, value]) => [`step[${name}]`, value]))).then(() => {
            const again = [...document.querySelectorAll('#build [aria-label]')].find((one) => one.getAttribute('aria-label') === focus);
            (again ?? document.querySelector('#build select, #build button'))?.focus();
        });
    };

    on('click', '#build button[data-build]', (event, button) => take(button));
    on('change', '#build select[data-build], #build input[data-build]', (event, field) => { if (field.value !== '' || field.tagName === 'INPUT') take(field); });
    on('change', '#build [data-joining]', (event, field) => {
        const kind = document.querySelector('#build [data-build-field=kind]').checked ? 'left join' : 'join';
        if (!field.value.startsWith('{')) return ask({ joining: field.value });
        field.dataset.build = field.value;
        return take(field, { kind });
    });
    on('keydown', '#build input', (event, field) => {
        if (event.key !== 'Enter') return;
        // The form is not to be saved by it.
        event.preventDefault();
        if (field.matches('[data-build-enter]')) take(field.closest('[data-build-group]').querySelector('button[data-build]'));
        else field.blur();
    });
    on('htmx:afterSwap', null, () => {
        const build = document.getElementById('build');
        if (build?.dataset.sql === undefined) return;
        // What was typed meanwhile is not written over.
        if (text() !== sent) { ask(); return; }
        const from = Number(build.dataset.at);
        const insert = build.dataset.sql;
        delete build.dataset.sql;
        view.dispatch({ changes: { from, to: from + Number(build.dataset.length), insert }, selection: { anchor: from + insert.length }, annotations: isolateHistory.of('full') });
        sent = text();
        build.dataset.length = insert.length;
    });
    place.addEventListener('toggle', () => { if (place.open) ask(); });
    document.querySelector('.editor').addEventListener('keyup', () => {
        clearTimeout(clock);
        clock = setTimeout(() => { if (place.open && text() !== sent) ask(); }, QUIET);
    });
};
