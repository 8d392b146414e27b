import { on } from '../events.js';
import { parseBlock, writeBlock } from './block.js';
import { openEditor } from './editor.js';

// The grid in which records are changed: what is typed is kept at the server at once, and nothing is sent to the service.
export const watchGrid = () => {
    const grid = document.getElementById('grid');
    if (!grid?.dataset.cells) return;
    const body = grid.tBodies[0];
    const headings = [...grid.tHead.rows[0].cells].filter((one) => one.dataset.column);
    const told = document.getElementById('change-fault');
    const pending = document.getElementById('pending');
    const done = [];
    const undone = [];
    let at = null;
    let from = null;
    let fresh = 0;
    let queue = Promise.resolve();

    const rows = () => [...body.rows].filter((row) => row.dataset.row);
    const cells = (row) => [...row.cells].filter((one) => one.dataset.column);
    const place = (cell) => [rows().indexOf(cell.parentElement), cells(cell.parentElement).indexOf(cell)];
    const cellAt = (row, column) => (rows()[row] ? cells(rows()[row])[column] : undefined);
    const say = (text) => {
        told.hidden = !text;
        told.textContent = text ?? '';
    };

    const area = () => {
        if (!at) return [];
        const [row, column] = place(at);
        const [otherRow, otherColumn] = from ? place(from) : [row, column];
        const found = [];
        for (let r = Math.min(row, otherRow); r <= Math.max(row, otherRow); r++) {
            found.push(cells(rows()[r]).slice(Math.min(column, otherColumn), Math.max(column, otherColumn) + 1));
        }
        return found;
    };
    const mark = () => {
        for (const one of body.querySelectorAll('.in-area')) one.classList.remove('in-area');
        if (from && from !== at) for (const one of area().flat()) one.classList.add('in-area');
    };
    const go = (cell, extend = false) => {
        if (!cell) return;
        from = extend ? (from ?? at) : null;
        at?.setAttribute('tabindex', '-1');
        at = cell;
        at.setAttribute('tabindex', '0');
        at.focus({ preventScroll: false });
        mark();
    };
    const step = (down, right, extend = false) => {
        const [row, column] = place(at);
        go(cellAt(row + down, Math.max(0, Math.min(headings.length - 1, column + right))), extend);
    };

    const picked = () => [...body.querySelectorAll('[data-pick]:checked')].map((one) => one.closest('tr').dataset.row);
    const tellPicked = () => {
        const bar = document.getElementById('picked');
        if (!bar) return;
        const chosen = picked();
        bar.hidden = chosen.length === 0;
        bar.querySelector('[data-picked]').textContent = chosen.length;
        for (const one of bar.querySelectorAll('[data-rows]')) one.value = chosen.join(',');
    };

    // What the server made of the rows, in the place of what stands there.
    const draw = (drawn) => {
        const here = at ? [at.parentElement.dataset.row, at.dataset.column] : null;
        const other = from ? [from.parentElement.dataset.row, from.dataset.column] : null;
        for (const [id, html] of Object.entries(drawn.rows)) {
            const old = body.querySelector(`tr[data-row="${CSS.escape(id)}"]`);
            const holder = document.createElement('tbody');
            holder.innerHTML = html;
            if (old && holder.firstElementChild) {
                const box = old.querySelector('[data-pick]');
                holder.querySelector('[data-pick]').checked = box.checked;
                old.replaceWith(holder.firstElementChild);
            } else if (old) {
                old.remove();
            } else if (holder.firstElementChild) {
                body.querySelector('[data-none]')?.remove();
                body.prepend(holder.firstElementChild);
            }
        }
        pending.hidden = drawn.pending === 0;
        pending.textContent = `${drawn.pending} pending`;
        const find = (one) => one && body.querySelector(`tr[data-row="${CSS.escape(one[0])}"] [data-column="${CSS.escape(one[1])}"]`);
        from = find(other) ?? null;
        if (find(here) && !body.querySelector('.in-cell')) {
            at = find(here);
            at.setAttribute('tabindex', '0');
            if (document.activeElement === document.body || grid.contains(document.activeElement)) at.focus({ preventScroll: true });
        }
        mark();
        window.htmx.ajax('GET', grid.dataset.look, { target: '#look', swap: 'outerHTML' });
    };

    const post = (edits) => {
        // One after the other, so that what was typed last counts.
        queue = queue.then(async () => {
            try {
                const answer = await fetch(grid.dataset.cells, {
                    method: 'POST',
                    headers: { accept: 'application/json', 'content-type': 'application/json', 'x-csrf-token': document.querySelector('meta[name="csrf-token"]').content },
                    body: JSON.stringify({ edits: JSON.stringify(edits) }),
                });
                const drawn = await answer.json();
                if (!answer.ok) throw new Error(drawn.fault ?? drawn.message ?? 'It could not be kept.');
                say(null);
                draw(drawn);
            } catch (fault) {
                say(fault.message === 'Failed to fetch' ? 'It could not be kept: the server does not answer. Try again.' : fault.message);
            }
        });
        return queue;
    };
    const change = (edits) => {
        const real = edits.filter((one) => one.text !== one.before);
        if (real.length === 0) return;
        done.push(real);
        undone.length = 0;
        post(real.map(({ row, column, text }) => ({ row, column, text })));
    };
    const edit = (cell, text) => ({ row: cell.parentElement.dataset.row, column: cell.dataset.column, text, before: cell.dataset.typed });
    const takeBack = (of, to, which) => {
        const last = of.pop();
        if (!last) return;
        to.push(last);
        post(last.filter((one) => !one.row.startsWith('fresh-')).map((one) => ({ row: one.row, column: one.column, text: one[which] })));
    };

    const open = (cell, typed) => {
        if ('fixed' in cell.dataset) {
            const heading = headings.find((one) => one.dataset.column === cell.dataset.column);
            say(heading.title.trim() || 'This column cannot be changed here.');
            return;
        }
        say(null);
        const heading = headings.find((one) => one.dataset.column === cell.dataset.column);
        openEditor(cell, heading, typed, grid.dataset.offered, (text, way) => {
            if (text !== null) change([edit(cell, text)]);
            if (way) {
                cell.focus();
                step({ down: 1 }[way] ?? 0, { left: -1, right: 1 }[way] ?? 0);
            } else {
                cell.focus();
            }
        });
    };

    const paste = (text) => {
        const block = parseBlock(text);
        const [row, column] = place(at);
        const wanted = area();
        const edits = [];
        // One value into a marked block fills all of it.
        if (block.length === 1 && block[0].length === 1 && wanted.flat().length > 1) {
            change(wanted.flat().filter((one) => !('fixed' in one.dataset)).map((one) => edit(one, block[0][0])));
            return;
        }
        const skipped = new Set();
        block.forEach((line, down) => {
            const target = rows()[row + down];
            const id = target ? null : `fresh-${fresh++}`;
            line.forEach((value, right) => {
                const heading = headings[column + right];
                if (!heading) return;
                const cell = target && cells(target)[column + right];
                if (cell && 'fixed' in cell.dataset) {
                    if (cell.dataset.typed !== value) skipped.add(heading.dataset.column);
                } else if (cell) edits.push(edit(cell, value));
                else edits.push({ row: id, column: heading.dataset.column, text: value, before: '' });
            });
        });
        change(edits);
        if (skipped.size) say(`Not pasted, since they cannot be changed: ${[...skipped].join(', ')}.`);
    };

    grid.addEventListener('focusin', (event) => {
        const cell = event.target.closest('td[data-column]');
        if (cell && cell !== at && event.target === cell) go(cell);
    });
    grid.addEventListener('mousedown', (event) => {
        const cell = event.target.closest('td[data-column]');
        if (!cell || event.target.closest('.in-cell')) return;
        event.preventDefault();
        if (document.activeElement?.classList.contains('in-cell')) document.activeElement.blur();
        go(cell, event.shiftKey);
    });
    grid.addEventListener('dblclick', (event) => {
        const cell = event.target.closest('td[data-column]');
        if (cell) open(cell);
    });
    grid.addEventListener('change', tellPicked);
    grid.addEventListener('keydown', (event) => {
        if (!at || event.target !== at || event.isComposing) return;
        const held = event.ctrlKey || event.metaKey;
        const way = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1], Home: [0, -9999], End: [0, 9999] }[event.key];
        if (way && !held) step(way[0], way[1], event.shiftKey);
        else if (event.key === 'Enter' && !held || event.key === 'F2') open(at);
        else if (event.key === 'Delete' || event.key === 'Backspace') change(area().flat().filter((one) => !('fixed' in one.dataset)).map((one) => edit(one, '')));
        else if (held && event.key.toLowerCase() === 'z') takeBack(...(event.shiftKey ? [undone, done, 'text'] : [done, undone, 'before']));
        else if (held && event.key.toLowerCase() === 'y') takeBack(undone, done, 'text');
        else if (held && event.key.toLowerCase() === 'd') {
            const block = area();
            change(block.slice(1).flatMap((line) => line.map((one, right) => [one, block[0][right]])).filter(([one]) => !('fixed' in one.dataset)).map(([one, first]) => edit(one, first.dataset.typed)));
        } else if (event.key === ' ' && event.shiftKey) {
            const box = at.parentElement.querySelector('[data-pick]');
            box.checked = !box.checked;
            tellPicked();
        } else if (event.key.length === 1 && !held && !event.altKey) open(at, event.key);
        else return;
        event.preventDefault();
    });
    on('paste', null, (event) => {
        if (!at || document.activeElement !== at) return;
        event.preventDefault();
        paste(event.clipboardData.getData('text/plain'));
    });
    on('copy', null, (event) => {
        if (!at || document.activeElement !== at) return;
        event.preventDefault();
        event.clipboardData.setData('text/plain', writeBlock(area().map((line) => line.map((one) => one.dataset.typed))));
    });
    document.querySelector('[data-add]')?.addEventListener('click', async () => {
        const first = headings.find((one) => !one.dataset.type.startsWith('json'));
        await post([{ row: `fresh-${fresh++}`, column: first.dataset.column, text: '' }]);
        go(cells(rows()[0]).find((one) => !('fixed' in one.dataset)));
    });
    on('keydown', null, (event) => {
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
            event.preventDefault();
            document.getElementById('look')?.scrollIntoView({ block: 'start' });
            document.getElementById('send')?.focus({ preventScroll: true });
        }
    });
    const first = cellAt(0, 0);
    first?.setAttribute('tabindex', '0');
    at = first ?? null;
};
