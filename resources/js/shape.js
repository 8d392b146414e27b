// Shaping: fields at the left, columns at the right, ribbons between. Every step is one request that
// is answered with the whole bench; what has the focus and where things are scrolled to stay.
import htmx from 'htmx.org';

const shape = () => document.getElementById('shape');
const open = new Map();
const unfolded = new Set();
let filter = '';

// A click on a field goes to it, for the keys.
document.addEventListener('click', (event) => {
    const field = event.target.closest?.('.seen-field');
    if (field && shape()?.contains(field) && !event.target.closest('button')) go(field);
});

const send = (values, focus) => {
    const bench = shape();
    if (!bench || bench.dataset.busy) return;
    bench.dataset.busy = 'yes';
    const at = ['fields', 'columns'].map((id) => [id, document.getElementById(id)?.scrollTop ?? 0]);
    const id = focus ?? document.activeElement?.id;
    htmx.ajax('POST', bench.dataset.url, { target: '#shape', swap: 'outerHTML', values }).then(() => {
        delete shape()?.dataset.busy;
        restore();
        for (const [typed, value] of typedMeanwhile) {
            const place = document.getElementById(typed);
            if (place && place.type !== 'checkbox') place.value = value;
        }
        typedMeanwhile.clear();
        for (const [pane, top] of at) if (document.getElementById(pane)) document.getElementById(pane).scrollTop = top;
        if (id) document.getElementById(id)?.focus({ preventScroll: true });
        draw();
    });
};

const restore = () => {
    for (const [id, isOpen] of open) document.getElementById(id)?.setAttribute('aria-expanded', isOpen);
    for (const id of unfolded) {
        const more = document.getElementById(id);
        if (more) more.hidden = false;
    }
    const field = document.getElementById('field-filter');
    if (field && filter) {
        field.value = filter;
        sift();
    }
    const first = document.querySelector('.seen-field[tabindex="0"]') ?? document.querySelector('.seen-field');
    if (first) first.tabIndex = 0;
};

const isShown = (element) => element.offsetParent !== null;

// From each field, or what it is folded into, to each column that reads it.
const draw = () => {
    const svg = document.getElementById('ribbons');
    if (!svg) return;
    const box = svg.getBoundingClientRect();
    const fields = document.getElementById('fields').getBoundingClientRect();
    const columns = document.getElementById('columns').getBoundingClientRect();
    let paths = '';
    for (const field of document.querySelectorAll('.seen-field[data-uses]:not([data-uses=""])')) {
        let seen = field;
        while (seen && !isShown(seen.querySelector('.line'))) seen = seen.parentElement.closest('.seen-field');
        if (!seen) continue;
        const line = seen.querySelector('.line').getBoundingClientRect();
        const from = line.top + line.height / 2;
        for (const id of field.dataset.uses.split(' ')) {
            const column = document.getElementById(id)?.querySelector('.line')?.getBoundingClientRect();
            if (!column) continue;
            const to = column.top + column.height / 2;
            const isOut = from < fields.top || from > fields.bottom || to < columns.top || to > columns.bottom;
            const clamp = (y, pane) => Math.min(pane.bottom, Math.max(pane.top, y)) - box.top;
            const [y1, y2] = [clamp(from, fields), clamp(to, columns)];
            const lit = lighted && (lighted === field || lighted.id === id || lighted === seen) ? ' lit' : '';
            paths += `<path class="ribbon${isOut ? ' out' : ''}${lit}" d="M0 ${y1}C${box.width / 2} ${y1} ${box.width / 2} ${y2} ${box.width} ${y2}"/>`;
        }
    }
    svg.innerHTML = paths;
};

let lighted = null;
const light = (target) => {
    const now = target?.closest?.('.seen-field, .column') ?? null;
    if (now === lighted) return;
    lighted = now;
    draw();
};

const sift = () => {
    const words = filter.toLowerCase().split(/\s+/).filter((word) => word !== '');
    let shown = 0;
    const look = (field) => {
        const below = [...field.querySelectorAll(':scope > ul > .seen-field')].map(look).some(Boolean);
        const fits = words.every((word) => field.dataset.text.includes(word));
        field.hidden = words.length > 0 && !fits && !below;
        if (words.length > 0 && below) field.setAttribute('aria-expanded', 'true');
        if (!field.hidden) shown++;
        return fits || below;
    };
    document.querySelectorAll('#fields > ul > .seen-field').forEach(look);
    document.getElementById('no-field').hidden = shown > 0;
    draw();
};

const fold = (field, isOpen) => {
    field.setAttribute('aria-expanded', String(isOpen));
    open.set(field.id, String(isOpen));
    draw();
};

const go = (field) => {
    if (!field) return;
    document.querySelectorAll('.seen-field[tabindex="0"]').forEach((one) => { one.tabIndex = -1; });
    field.tabIndex = 0;
    field.focus({ preventScroll: true });
    field.querySelector('.line').scrollIntoView({ block: 'nearest' });
};

const toggle = (field, isLeavesOnly = false) => send({ do: field.classList.contains('used') ? 'exclude' : (isLeavesOnly ? 'add-leaves' : 'add'), path: field.dataset.path }, field.id);

const ofColumn = (element) => {
    const column = element.closest('.column');
    return column && { table: column.dataset.table, column: column.dataset.column };
};

document.addEventListener('keydown', (event) => {
    if (!shape()) return;
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !event.target.closest('input, textarea')) {
        event.preventDefault();
        send({ do: event.shiftKey ? 'redo' : 'undo' });
        return;
    }
    const field = event.target.closest?.('.seen-field');
    if (field && event.target === field) {
        const all = [...document.querySelectorAll('.seen-field')].filter((one) => isShown(one.querySelector('.line')));
        const here = all.indexOf(field);
        const isOpen = field.getAttribute('aria-expanded');
        const steps = {
            ArrowDown: () => go(all[here + 1]), ArrowUp: () => go(all[here - 1]), Home: () => go(all[0]), End: () => go(all[all.length - 1]),
            ArrowRight: () => (isOpen === 'false' ? fold(field, true) : go(field.querySelector('.seen-field'))),
            ArrowLeft: () => (isOpen === 'true' ? fold(field, false) : go(field.parentElement.closest('.seen-field'))),
            Enter: () => toggle(field, event.shiftKey), ' ': () => toggle(field, event.shiftKey),
        };
        if (steps[event.key] && !event.ctrlKey && !event.altKey && !event.metaKey) {
            event.preventDefault();
            steps[event.key]();
        }
        return;
    }
    const column = event.target.closest?.('.column');
    if (column && event.target.closest('.line')) {
        const at = ofColumn(column);
        if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
            event.preventDefault();
            const to = Number(at.column) + (event.key === 'ArrowUp' ? -1 : 1);
            if (to >= 0) send({ do: 'move', ...at, to }, `t${at.table}-c${to}-grip`);
        } else if (event.key === 'Delete' && event.target.matches('.grip')) {
            event.preventDefault();
            send({ do: 'drop', ...at }, `t${at.table}-c${Math.max(0, at.column - 1)}-grip`);
        }
    }
    if (event.key === 'Enter' && event.target.matches('#shape input')) {
        event.preventDefault();
        if (event.target.dataset.compute !== undefined) compute(event.target.dataset.compute);
        else event.target.dispatchEvent(new Event('change', { bubbles: true }));
    }
    if (event.key === 'Enter' && event.target.matches('tr[data-record]')) event.target.click();
});

const compute = (table) => {
    const expression = document.getElementById(`t${table}-expression`).value;
    if (expression.trim() !== '') send({ do: 'compute', table, name: document.getElementById(`t${table}-new`).value, expression });
};

document.addEventListener('click', (event) => {
    const bench = shape();
    if (!bench || !bench.contains(event.target)) return;
    const button = event.target.closest('[data-do]');
    if (button) {
        const field = button.closest('.seen-field');
        send({ do: button.dataset.do, path: button.dataset.path ?? field?.dataset.path ?? '', table: button.dataset.table ?? '', with: button.dataset.with ?? '' }, field?.id);
        return;
    }
    const folding = event.target.closest('button.fold');
    if (folding) fold(folding.closest('.seen-field'), folding.closest('.seen-field').getAttribute('aria-expanded') !== 'true');
    const drop = event.target.closest('[data-drop]');
    if (drop) send({ do: 'drop', ...ofColumn(drop) });
    const go = event.target.closest('[data-compute-go]');
    if (go) compute(go.dataset.computeGo);
    const row = event.target.closest('tr[data-record]');
    if (row) htmx.ajax('GET', `${bench.dataset.record}?record=${row.dataset.record}`, { target: '#record', swap: 'outerHTML' }).then(() => document.getElementById('record')?.scrollIntoView({ block: 'nearest' }));
    const more = event.target.closest('[data-unfold]');
    if (more) setTimeout(() => {
        const id = more.dataset.unfold;
        document.getElementById(id).hidden ? unfolded.delete(id) : unfolded.add(id);
        draw();
    });
});

document.addEventListener('change', (event) => {
    if (!shape()?.contains(event.target)) return;
    const { target } = event;
    if (target.dataset.set) {
        const at = ofColumn(target);
        if (target.dataset.set === 'rename') send({ do: 'rename', ...at, name: target.value });
        else send({ do: 'set', ...at, [target.dataset.set]: target.type === 'checkbox' ? (target.checked ? '1' : '0') : target.value });
    }
    if (target.dataset.tableName !== undefined || target.dataset.where !== undefined) {
        const table = target.dataset.tableName ?? target.dataset.where;
        send({ do: 'table', table, name: document.getElementById(`t${table}-table`).value, where: document.getElementById(`t${table}-where`)?.value ?? '' });
    }
});

document.addEventListener('input', (event) => {
    if (event.target.id !== 'field-filter') return;
    filter = event.target.value;
    sift();
});

// A field dragged among the columns is added there; a column dragged by its grip is moved.
let drag = null;
const unmark = () => document.querySelectorAll('.drop-before, .drop-after').forEach((one) => one.classList.remove('drop-before', 'drop-after'));
const placeAt = (x, y) => {
    const under = document.elementFromPoint(x, y);
    const column = under?.closest('.column');
    if (!column) return under?.closest('#columns') ? { end: true } : null;
    const box = column.getBoundingClientRect();
    const isBelow = y > box.top + box.height / 2;
    return { column, isBelow, table: column.dataset.table, at: Number(column.dataset.column) + (isBelow ? 1 : 0) };
};
document.addEventListener('pointerdown', (event) => {
    if (event.button !== 0 || !shape()?.contains(event.target)) return;
    const column = event.target.closest('.grip')?.closest('.column');
    const field = event.target.closest('button') ? null : event.target.closest('.seen-field');
    if (column) drag = { kind: 'column', ...ofColumn(column), element: column };
    else if (field) drag = { kind: 'field', path: field.dataset.path, element: field };
    if (drag) Object.assign(drag, { x: event.clientX, y: event.clientY, isUnderWay: false });
});
document.addEventListener('pointermove', (event) => {
    if (!drag) return;
    if (!drag.isUnderWay && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 6) return;
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
    else if (place.table === was.table) send({ do: 'move', table: was.table, column: was.column, to: place.at > Number(was.column) ? place.at - 1 : place.at });
};
document.addEventListener('pointerup', letGo);
document.addEventListener('pointercancel', letGo);

// What is typed while a step is on its way is put into what comes back.
const typedMeanwhile = new Map();
document.addEventListener('input', (event) => {
    if (shape()?.dataset.busy && event.target.id && shape().contains(event.target)) typedMeanwhile.set(event.target.id, event.target.value);
});

document.addEventListener('mouseover', (event) => { if (shape()) light(event.target); });
document.addEventListener('focusin', (event) => { if (shape()) light(event.target); });
document.addEventListener('scroll', (event) => { if (shape()) draw(); }, true);
window.addEventListener('resize', draw);
document.addEventListener('htmx:afterRequest', () => { if (shape()) delete shape().dataset.busy; });
if (shape()) {
    restore();
    draw();
    document.fonts?.ready.then(draw);
}
