// A field dragged among the columns is added there; a column dragged by its grip is moved.
import { on } from '../events.js';

/** Pixels after which a press is a drag. */
const FAR = 6;

/** Where a column comes to stand that is taken out before it is put in again. */
export const target = (from, to) => (to > from ? to - 1 : to);

const unmark = () => document.querySelectorAll('.drop-before, .drop-after').forEach((one) => one.classList.remove('drop-before', 'drop-after'));

const placeAt = (x, y) => {
    const under = document.elementFromPoint(x, y);
    const column = under?.closest('.column');
    if (!column) return under?.closest('#columns') ? { end: true } : null;
    const box = column.getBoundingClientRect();
    const isBelow = y > box.top + box.height / 2;
    return { column, isBelow, table: column.dataset.table, at: Number(column.dataset.column) + (isBelow ? 1 : 0) };
};

/**
 * @param {(values: object, focus?: string) => void} send
 * @param {(element: Element) => {table: string, column: string}} columnOf
 */
export const watchDragging = (send, columnOf) => {
    let drag = null;
    on('pointerdown', '#shape *', (event) => {
        if (event.button !== 0) return;
        const column = event.target.closest('.grip')?.closest('.column');
        const field = event.target.closest('button') ? null : event.target.closest('.seen-field');
        if (column) drag = { kind: 'column', ...columnOf(column), element: column };
        else if (field) drag = { kind: 'field', path: field.dataset.path, element: field };
        if (drag) Object.assign(drag, { x: event.clientX, y: event.clientY, isUnderWay: false });
    });
    on('pointermove', null, (event) => {
        if (!drag) return;
        if (!drag.isUnderWay && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < FAR) return;
        drag.isUnderWay = true;
        document.body.classList.add('dragging');
        event.preventDefault();
        unmark();
        const place = placeAt(event.clientX, event.clientY);
        place?.column?.classList.add(place.isBelow ? 'drop-after' : 'drop-before');
        const pane = document.getElementById('columns').getBoundingClientRect();
        if (event.clientX > pane.left) document.getElementById('columns').scrollTop += event.clientY > pane.bottom - 24 ? 12 : (event.clientY < pane.top + 24 ? -12 : 0);
    });
    const letGo = (event) => {
        const was = drag;
        drag = null;
        document.body.classList.remove('dragging');
        unmark();
        if (!was?.isUnderWay || event.type === 'pointercancel') return;
        const place = placeAt(event.clientX, event.clientY);
        if (!place) return;
        if (was.kind === 'field') send({ do: 'add', path: was.path, at: place.at ?? '' }, was.element.id);
        else if (place.table === was.table) send({ do: 'move', table: was.table, column: was.column, to: target(Number(was.column), place.at) });
    };
    on('pointerup', null, letGo);
    on('pointercancel', null, letGo);
};
