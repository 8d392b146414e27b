import { on } from '../events.js';

let lighted = null;

const isShown = (element) => element.offsetParent !== null;

/** A curve over the width, in pixels, from one height to another. */
export const curve = (width, from, to) => `M0 ${from}C${width / 2} ${from} ${width / 2} ${to} ${width} ${to}`;

/** A height as it is seen in a pane that scrolls. */
export const clamp = (y, pane) => Math.min(pane.bottom, Math.max(pane.top, y));

const middle = (box) => box.top + box.height / 2;

// From each field, or what it is folded into, to each column that reads it.
export const draw = () => {
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
        const from = middle(seen.querySelector('.line').getBoundingClientRect());
        for (const id of field.dataset.uses.split(' ')) {
            const line = document.getElementById(id)?.querySelector('.line')?.getBoundingClientRect();
            if (!line) continue;
            const to = middle(line);
            const isOut = from < fields.top || from > fields.bottom || to < columns.top || to > columns.bottom;
            const isLit = lighted && (lighted === field || lighted.id === id || lighted === seen);
            paths += `<path class="ribbon${isOut ? ' out' : ''}${isLit ? ' lit' : ''}" d="${curve(box.width, clamp(from, fields) - box.top, clamp(to, columns) - box.top)}"/>`;
        }
    }
    svg.innerHTML = paths;
};

const light = (event) => {
    const now = event.target.closest?.('.seen-field, .column') ?? null;
    if (now === lighted) return;
    lighted = now;
    draw();
};

export const watchRibbons = () => {
    on('mouseover', null, light);
    on('focusin', null, light);
    on('scroll', null, draw, { capture: true });
    window.addEventListener('resize', draw);
};
