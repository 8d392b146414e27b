// The editor of one cell, in its place: a field of the type of its column, with what is offered for it.
import { otherDay } from './days.js';

const known = new Map();

const offered = async (address, column) => {
    const url = `${address}?column=${encodeURIComponent(column)}`;
    if (!known.has(url)) {
        const answer = await fetch(url, { headers: { accept: 'application/json' } });
        known.set(url, answer.ok ? (await answer.json()).values : []);
    }
    return known.get(url);
};

const field = (type) => {
    if (type === 'json') return document.createElement('textarea');
    const input = document.createElement('input');
    if (['integer', 'decimal', 'float'].includes(type)) input.inputMode = 'decimal';
    input.placeholder = { date: '2031-03-02', datetime: '2031-03-02 14:30', boolean: 'yes or no', time: '14:30' }[type] ?? '';
    return input;
};

export const openEditor = (cell, heading, typed, address, done) => {
    const input = field(heading.dataset.type);
    const before = cell.innerHTML;
    let over = false;
    const list = document.createElement('datalist');
    input.className = 'in-cell';
    input.setAttribute('aria-label', `${heading.textContent.trim()}, new value`);
    input.value = typed ?? cell.dataset.typed;
    list.id = 'offered-values';
    const values = heading.dataset.type === 'boolean' ? Promise.resolve(['yes', 'no']) : 'offers' in heading.dataset ? offered(address, heading.dataset.column) : null;
    cell.replaceChildren(input);
    if (values) {
        input.setAttribute('list', list.id);
        cell.append(list);
        values.then((all) => list.replaceChildren(...all.map((value) => new Option(value, value))));
    }
    const end = (keep, way) => {
        if (over) return;
        over = true;
        const text = input.value;
        cell.innerHTML = before;
        done(keep && text !== cell.dataset.typed ? text : null, way);
    };
    input.addEventListener('keydown', (event) => {
        if (event.isComposing) return;
        if (event.key === 'Escape') end(false, null);
        else if (event.key === 'Enter' && !(event.shiftKey && input.tagName === 'TEXTAREA') && !event.ctrlKey) end(true, 'down');
        else if (event.key === 'Tab') end(true, event.shiftKey ? 'left' : 'right');
        else if (event.key === 'Enter' && event.ctrlKey) {
            end(true, null);
            return;
        } else if (event.altKey && ['ArrowUp', 'ArrowDown'].includes(event.key) && ['date', 'datetime'].includes(heading.dataset.type)) {
            const by = event.key === 'ArrowUp' ? 1 : -1;
            input.value = otherDay(input.value, event.shiftKey ? 0 : by, event.shiftKey ? by : 0, new Date()) ?? input.value;
        } else return;
        event.preventDefault();
        event.stopPropagation();
    });
    input.addEventListener('blur', () => end(true, null));
    input.focus();
    if (typed === undefined) input.select();
};
