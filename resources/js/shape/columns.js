// The columns: named, typed, moved and dropped.
import { on } from '../events.js';
import { draw } from './ribbons.js';

/** Ids of what the person unfolded. */
const unfolded = new Set();

/** Where an element of a column is: {table, column}, as the server counts them. */
export const columnOf = (element) => {
    const column = element.closest('.column');
    return column && { table: column.dataset.table, column: column.dataset.column };
};

const compute = (table, send) => {
    const expression = document.getElementById(`t${table}-expression`).value;
    if (expression.trim() !== '') send({ do: 'compute', table, name: document.getElementById(`t${table}-new`).value, expression });
};

const walk = (event, column, send) => {
    if (!event.target.closest('.line')) return;
    const at = columnOf(column);
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
        event.preventDefault();
        const to = Number(at.column) + (event.key === 'ArrowUp' ? -1 : 1);
        if (to >= 0) send({ do: 'move', ...at, to }, `t${at.table}-c${to}-grip`);
    } else if (event.key === 'Delete' && event.target.matches('.grip')) {
        event.preventDefault();
        send({ do: 'drop', ...at }, `t${at.table}-c${Math.max(0, at.column - 1)}-grip`);
    }
};

const enter = (event, input, send) => {
    if (event.key !== 'Enter') return;
    event.preventDefault();
    if (input.dataset.compute !== undefined) compute(input.dataset.compute, send);
    else input.dispatchEvent(new Event('change', { bubbles: true }));
};

const set = (event, field, send) => {
    const at = columnOf(field);
    const { set: what } = field.dataset;
    if (what === 'rename') send({ do: 'rename', ...at, name: field.value });
    else send({ do: 'set', ...at, [what]: field.type === 'checkbox' ? (field.checked ? '1' : '0') : field.value });
};

const setTable = (event, field, send) => {
    const table = field.dataset.tableName ?? field.dataset.where ?? field.dataset.tableText;
    const said = (name) => document.getElementById(`t${table}-${name}`)?.value ?? '';
    send({ do: 'table', table, name: said('table'), where: said('where'), title: said('title'), owner: said('owner'), comment: said('comment') });
};

// After it was unfolded, which another place does.
const remember = (event, button) => setTimeout(() => {
    const id = button.dataset.unfold;
    if (document.getElementById(id).hidden) unfolded.delete(id);
    else unfolded.add(id);
    draw();
});

const restore = () => {
    for (const id of unfolded) {
        const more = document.getElementById(id);
        if (more) more.hidden = false;
    }
};

/**
 * @param {(values: object, focus?: string) => void} send
 * @returns {() => void} tells new columns of the old ones
 */
export const watchColumns = (send) => {
    on('keydown', '#shape .column', (event, column) => walk(event, column, send));
    on('keydown', '#shape input', (event, input) => enter(event, input, send));
    on('click', '#shape [data-drop]', (event, button) => send({ do: 'drop', ...columnOf(button) }));
    on('click', '#shape [data-compute-go]', (event, button) => compute(button.dataset.computeGo, send));
    on('click', '#shape [data-unfold]', remember);
    on('change', '#shape [data-set]', (event, field) => set(event, field, send));
    on('change', '#shape [data-table-name], #shape [data-where], #shape [data-table-text]', (event, field) => setTable(event, field, send));

    return restore;
};
