// The documentation beside a sheet: what is selected in it goes into a field, its code and tables into the sheet.
import { on } from './events.js';

const KEY = 'documentation-open';

/** The cells of a table, row by row. */
export const cells = (table) => [...table.rows].map((row) => [...row.cells].map((cell) => cell.innerText.trim()));

/** Whether a code sample can be read as a request. */
export const isRequest = (code) => /(^|\n)\s*(\$\s*)?curl\s/i.test(code) || /^https?:\/\/\S+$/i.test(code.trim());

let field = null;
let chosen = '';

const pane = () => document.getElementById('docs');

const nameOf = (one) => one.labels?.[0]?.innerText.trim() || one.getAttribute('aria-label') || one.name;

const offer = () => {
    const bar = document.getElementById('docs-put');
    if (!bar) return;
    bar.hidden = chosen === '' || !field?.isConnected;
    if (!bar.hidden) bar.querySelector('[data-docs-field]').textContent = nameOf(field).slice(0, 40);
};

const selected = () => {
    const selection = document.getSelection();
    const inside = selection.anchorNode && pane()?.contains(selection.anchorNode);
    // A press on the button that takes it ends the selection in some browsers, and what was chosen stays.
    if (inside && String(selection).trim() !== '') chosen = String(selection).trim();
    offer();
};

const put = () => {
    if (!field?.isConnected) return;
    field.value = chosen;
    field.dispatchEvent(new Event('input', { bubbles: true }));
    field.dispatchEvent(new Event('change', { bubbles: true }));
    field.focus();
};

const button = (words, act) => {
    const one = document.createElement('button');
    one.type = 'button';
    one.className = 'link text-sm';
    one.textContent = words;
    one.addEventListener('click', act);
    return one;
};

const asEndpoint = (code) => {
    const form = document.getElementById('docs-endpoint');
    form.querySelector('textarea').value = code.replace(/^\s*\$\s+/gm, '');
    form.submit();
};

const asFields = (table, as) => {
    const step = document.getElementById('docs-step');
    step.setAttribute('hx-vals', JSON.stringify({ do: 'fields-of-table', as, table: JSON.stringify(cells(table)) }));
    step.click();
};

const decorate = () => {
    const text = document.getElementById('docs-text');
    if (!text || text.dataset.ready) return;
    text.dataset.ready = '';
    text.querySelectorAll('pre').forEach((code) => {
        if (document.getElementById('docs-endpoint') && isRequest(code.innerText)) code.after(button('Make an endpoint of it', () => asEndpoint(code.innerText)));
    });
    text.querySelectorAll('table').forEach((table) => {
        if (!document.getElementById('docs-step')) return;
        const bar = document.createElement('p');
        bar.append(button('Make inputs of it', () => asFields(table, 'inputs')), ' · ', button('Use it as a sample answer', () => asFields(table, 'sample')));
        table.after(bar);
    });
    text.querySelector('mark')?.scrollIntoView({ block: 'center' });
};

const open = () => {
    pane().hidden = false;
    document.body.classList.add('with-docs');
    sessionStorage.setItem(KEY, 'yes');
    decorate();
    const search = document.getElementById('docs-q');
    if (search?.value) {
        search.focus();
        search.setSelectionRange(search.value.length, search.value.length);
    }
};

const close = () => {
    pane().hidden = true;
    document.body.classList.remove('with-docs');
    sessionStorage.removeItem(KEY);
    document.getElementById('open-docs')?.focus();
};

export const watchDocs = () => {
    if (!pane()) return;
    on('htmx:afterSettle', null, (event) => { if (event.detail.target?.id === 'docs') open(); });
    on('click', '[data-docs-close]', close);
    on('click', '[data-docs-put]', put);
    on('focusin', null, (event) => {
        if (event.target.matches('#sheet input:not([type=checkbox], [type=hidden], [type=file], [type=radio]), #sheet textarea')) {
            field = event.target;
            offer();
        }
    });
    on('selectionchange', null, selected);
    // It stays open from page to page.
    const opener = document.getElementById('open-docs');
    if (opener && sessionStorage.getItem(KEY)) setTimeout(() => opener.click(), 0);
};
