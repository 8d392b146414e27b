// Shaping: fields at the left, columns at the right, ribbons between. Every step is one request that
// is answered with the whole bench; what has the focus and where things are scrolled to stay.
import htmx from 'htmx.org';
import { on } from '../events.js';
import { columnOf, watchColumns } from './columns.js';
import { watchDragging } from './drag.js';
import { watchFields } from './fields.js';
import { draw, watchRibbons } from './ribbons.js';

const shape = () => document.getElementById('shape');

/** What is typed while a step is on its way, put into what comes back: id → value. */
const typed = new Map();

/**
 * Undo and redo that were pressed while a step was on its way. Nothing else waits: another step names a
 * place, which may be another one by then.
 */
const waiting = [];

/** What a new bench is told of the old one. */
const restorers = [];

const restore = () => restorers.forEach((one) => one());

const send = (values, focus) => {
    const bench = shape();
    if (!bench) return;
    if (bench.dataset.busy) {
        if (['undo', 'redo'].includes(values.do)) waiting.push([values, focus]);
        return;
    }
    bench.dataset.busy = 'yes';
    const at = ['fields', 'columns'].map((id) => [id, document.getElementById(id)?.scrollTop ?? 0]);
    const id = focus ?? document.activeElement?.id;
    htmx.ajax('POST', bench.dataset.url, { target: '#shape', swap: 'outerHTML', values }).then(() => {
        delete shape()?.dataset.busy;
        restore();
        for (const [field, value] of typed) {
            const place = document.getElementById(field);
            if (place && place.type !== 'checkbox') place.value = value;
        }
        typed.clear();
        for (const [pane, top] of at) if (document.getElementById(pane)) document.getElementById(pane).scrollTop = top;
        if (id) document.getElementById(id)?.focus({ preventScroll: true });
        draw();
    }).finally(() => {
        if (waiting.length > 0) send(...waiting.shift());
    });
};

const undo = (event) => {
    const isUndo = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z';
    if (!shape() || !isUndo || event.target.closest('input, textarea')) return;
    event.preventDefault();
    send({ do: event.shiftKey ? 'redo' : 'undo' });
};

const press = (event, button) => {
    const field = button.closest('.seen-field');
    send({ do: button.dataset.do, path: button.dataset.path ?? field?.dataset.path ?? '', table: button.dataset.table ?? '', with: button.dataset.with ?? '' }, field?.id);
};

const showRecord = (event, row) => {
    htmx.ajax('GET', `${shape().dataset.record}?record=${row.dataset.record}`, { target: '#record', swap: 'outerHTML' }).then(() => document.getElementById('record')?.scrollIntoView({ block: 'nearest' }));
};

export const watchShaping = () => {
    if (!shape()) return;
    on('keydown', null, undo);
    on('keydown', '#shape tr[data-record]', (event, row) => { if (event.key === 'Enter' && event.target === row) row.click(); });
    on('click', '#shape [data-do]', press);
    on('click', '#shape tr[data-record]', (event, row) => { if (!event.target.closest('[data-do]')) showRecord(event, row); });
    on('input', '#shape *', (event) => { if (shape().dataset.busy && event.target.id) typed.set(event.target.id, event.target.value); });
    on('htmx:afterRequest', null, () => { if (shape()) delete shape().dataset.busy; });
    restorers.push(watchFields(send), watchColumns(send));
    watchDragging(send, columnOf);
    watchRibbons();
    restore();
    draw();
    document.fonts?.ready.then(draw);
};
