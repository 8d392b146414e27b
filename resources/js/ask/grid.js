// Rows of a result: as many of them in the page as can be seen, the rest as they are scrolled to.
import { on } from '../events.js';
import { asInsert, asMarkdown, asTsv, isNumber, shown, width } from './cells.js';
import { jsonTree } from './tree.js';
import { readAll, RowsHere, RowsThere } from './rows.js';

const HEIGHT = 24;
const BESIDE = 12;
// Pixels that browsers draw of one element; what is higher moves faster than its bar.
const HIGHEST = 12e6;
// Rows that are copied at once.
const COPIED = 50000;
const CHARACTER = 7.6;
const remembered = (what, name) => { try { return localStorage.getItem(`grid ${what} ${name}`); } catch { return null; } };
const remember = (what, name, value) => { try { value === null ? localStorage.removeItem(`grid ${what} ${name}`) : localStorage.setItem(`grid ${what} ${name}`, value); } catch { /* nothing is remembered, and that is all */ } };

const made = (tag, className = '', more = {}) => Object.assign(document.createElement(tag), { className, ...more });

// What follows the mouse while its button is down.
let drag = null;

class Grid {
    constructor(place) {
        const data = JSON.parse(place.querySelector('script').textContent);
        this.place = place;
        this.numbers = place.dataset.numbers;
        this.columns = data.columns.map((column, at) => ({ ...column, at, groups: (remembered('groups', column.name) ?? (column.kind === 'amount' ? 'yes' : 'no')) === 'yes', pinned: remembered('pinned', column.name) === 'yes' }));
        this.rows = new RowsHere(data);
        this.sort = null;
        this.text = '';
        this.active = [0, 0];
        this.anchor = null;
        for (const column of this.columns) {
            const widest = data.rows.slice(0, 300).reduce((most, row) => Math.max(most, width(row[column.at], column)), column.name.length + 2);
            column.width = Number(remembered('width', column.name)) || Math.round(Math.min(46, Math.max(4, widest)) * CHARACTER + 18);
        }
        this.build();
        this.order();
    }

    build() {
        this.bar = made('div', 'grid-bar');
        this.find = made('input', 'f', { type: 'search', placeholder: 'find in these rows', ariaLabel: 'Find in these rows' });
        this.find.addEventListener('input', () => { clearTimeout(this.typed); this.typed = setTimeout(() => { this.text = this.find.value.toLowerCase(); this.order(); }, this.canHaveMore() ? 500 : 0); });
        this.says = made('span', 's', { role: 'status' });
        this.says.setAttribute('role', 'status');
        this.acts = made('span', 'grid-acts');
        this.bar.append(this.find, this.says, this.acts);
        this.box = made('div', 'grid-box');
        this.box.tabIndex = 0;
        this.box.setAttribute('role', 'grid');
        this.box.setAttribute('aria-label', this.place.getAttribute('aria-label'));
        this.box.setAttribute('aria-colcount', this.columns.length);
        this.head = made('div', 'grid-head');
        this.head.setAttribute('role', 'row');
        this.body = made('div', 'grid-body');
        this.body.setAttribute('role', 'rowgroup');
        this.box.append(this.head, this.body);
        this.opened = made('div', 'grid-opened');
        this.opened.hidden = true;
        this.place.append(this.bar, this.box, this.opened);
        this.box.addEventListener('scroll', () => { this.draw(); this.reachesEnd(); }, { passive: true });
        this.box.addEventListener('keydown', (event) => this.key(event));
        this.box.addEventListener('copy', (event) => this.copied(event));
        this.box.addEventListener('mousedown', (event) => this.press(event));
        this.box.addEventListener('dblclick', (event) => { if (event.target.closest('.grid-cell')) this.open(); });
        this.box.addEventListener('focus', () => this.draw());
    }

    /** The columns as they stand: those that are pinned first. */
    shownColumns() {
        return [...this.columns.filter((column) => column.pinned), ...this.columns.filter((column) => !column.pinned)];
    }

    /** Whether the result has rows that did not come with the page. */
    canHaveMore() {
        return this.place.dataset.allUrl !== undefined;
    }

    order() {
        if (this.canHaveMore() && (this.sort !== null || this.text !== '' || this.rows instanceof RowsThere)) {
            this.heads();
            this.fetchAll();
            return;
        }
        this.rows.arrange(this.sort, this.text, this.columns);
        this.arranged();
        this.says.textContent = this.text === '' ? '' : `${this.rows.length} of ${this.rows.of}`;
    }

    arranged() {
        this.active[0] = Math.max(0, Math.min(this.active[0], this.rows.length - 1));
        this.anchor = null;
        this.box.setAttribute('aria-rowcount', this.rows.length + 1);
        this.heads();
        this.draw();
    }

    /** Who scrolls to the end of the first rows wants the rest. */
    reachesEnd() {
        if (this.canHaveMore() && this.rows instanceof RowsHere && this.box.scrollTop + this.box.clientHeight > this.body.offsetHeight - 10 * HEIGHT) this.fetchAll();
    }

    async fetchAll() {
        const values = { sql: this.place.dataset.sql, column: this.sort ? String(this.sort.at) : '', down: this.sort?.descending ? '1' : '', find: this.text };
        const wish = JSON.stringify(values);
        if (this.wish === wish) return;
        this.wish = wish;
        this.reading?.abort();
        const reading = new AbortController();
        this.reading = reading;
        const stop = made('button', 'btn small', { type: 'button', textContent: 'Stop' });
        const count = made('span', '', { textContent: 'Reading all rows … ' });
        stop.addEventListener('click', () => reading.abort());
        this.says.replaceChildren(count, stop);
        try {
            const told = await readAll(this.place.dataset.allUrl, values, (rows) => { count.textContent = `${this.counted(rows)} rows … `; }, reading.signal);
            if (this.wish !== wish) return;
            this.rows = new RowsThere(this.place.dataset.partUrl, told, () => this.draw());
            this.says.textContent = `${told.cut ? 'the first ' : ''}${this.counted(told.rows)} rows${this.text === '' ? '' : ' have it'}`;
            document.querySelector('[data-more]')?.remove();
            const head = document.querySelector('[data-count]');
            if (head && this.text === '') head.textContent = `${told.cut ? 'the first ' : ''}${this.counted(told.rows)} rows`;
            this.arranged();
        } catch (failed) {
            if (this.wish !== wish) return;
            this.wish = null;
            this.says.textContent = reading.signal.aborted ? 'Stopped. The first rows are still here.' : failed.message;
        }
    }

    counted(rows) {
        return rows.toLocaleString('en').replaceAll(',', '\u2009');
    }

    heads() {
        this.head.replaceChildren();
        let left = 0;
        this.lefts = [];
        this.shownColumns().forEach((column, place) => {
            this.lefts[place] = left;
            const cell = made('div', `grid-name${isNumber(column) ? ' n' : ''}${column.pinned ? ' pinned' : ''}`);
            cell.setAttribute('role', 'columnheader');
            const isSort = this.sort?.at === column.at;
            cell.setAttribute('aria-sort', isSort ? (this.sort.descending ? 'descending' : 'ascending') : 'none');
            cell.title = column.about ? `${column.name}: ${column.about}` : column.name;
            cell.dataset.place = place;
            const name = made('span', 'name');
            name.textContent = `${column.name}${isSort ? (this.sort.descending ? ' ↓' : ' ↑') : ''}`;
            cell.append(name, made('span', 'grip'));
            cell.style.width = `${column.width}px`;
            if (column.pinned) cell.style.left = `${left}px`;
            this.head.append(cell);
            left += column.width;
        });
        this.total = left;
        this.head.style.width = `${left}px`;
        this.body.style.width = `${left}px`;
        const high = this.rows.length * HEIGHT;
        this.faster = Math.max(1, (high - this.box.clientHeight) / (HIGHEST - this.box.clientHeight));
        this.body.style.height = `${Math.min(high, HIGHEST)}px`;
        this.buttons();
    }

    draw() {
        const begins = this.box.scrollTop * this.faster;
        const first = Math.max(0, Math.floor(begins / HEIGHT) - BESIDE);
        const last = Math.min(this.rows.length, Math.ceil((begins + this.box.clientHeight) / HEIGHT) + BESIDE);
        if (this.rows.fault) [this.says.textContent, this.rows.fault] = [this.rows.fault, null];
        const columns = this.shownColumns();
        const rows = [];
        for (let at = first; at < last; at++) {
            const row = made('div', 'grid-row');
            row.setAttribute('role', 'row');
            row.setAttribute('aria-rowindex', at + 2);
            row.style.top = `${at * HEIGHT - begins + this.box.scrollTop}px`;
            columns.forEach((column, place) => row.append(this.cell(at, place, column)));
            rows.push(row);
        }
        this.body.replaceChildren(...rows);
        this.box.setAttribute('aria-activedescendant', document.getElementById(this.id(...this.active)) ? this.id(...this.active) : '');
    }

    cell(at, place, column) {
        const cell = made('div', `grid-cell${isNumber(column) ? ' n' : ''}${column.pinned ? ' pinned' : ''}${column.kind === 'json' ? ' m' : ''}`);
        cell.setAttribute('role', 'gridcell');
        cell.id = this.id(at, place);
        cell.style.width = `${column.width}px`;
        if (column.pinned) cell.style.left = `${this.lefts[place]}px`;
        if (this.isSelected(at, place)) cell.setAttribute('aria-selected', 'true');
        if (this.active[0] === at && this.active[1] === place) cell.classList.add('active');
        const row = this.rows.row(at);
        cell.append(row === null ? '…' : shown(row[column.at], column, this.numbers));
        return cell;
    }

    id(at, place) {
        return `grid-${at}-${place}`;
    }

    isSelected(at, place) {
        if (!this.anchor) return false;
        const [top, bottom, left, right] = this.block();
        return at >= top && at <= bottom && place >= left && place <= right;
    }

    /** Rows and columns of what is selected; the active cell where nothing more is. */
    block() {
        const [row, column] = this.anchor ?? this.active;
        return [Math.min(row, this.active[0]), Math.max(row, this.active[0]), Math.min(column, this.active[1]), Math.max(column, this.active[1])];
    }

    selected(all = false) {
        const [top, bottom, left, right] = all ? [0, this.rows.length - 1, 0, this.columns.length - 1] : this.block();
        const columns = this.shownColumns().slice(left, right + 1);
        const rows = [];
        for (let at = top; at <= bottom; at++) {
            const row = this.rows.row(at);
            if (row === null || rows.length === COPIED) throw new Error(row === null ? 'Some of these rows are still being read. Copy them again in a moment.' : `More than ${this.counted(COPIED)} rows are handed out by an export.`);
            rows.push(columns.map((column) => row[column.at]));
        }
        return [columns, rows];
    }

    go(row, column, extends_) {
        this.anchor = extends_ ? this.anchor ?? [...this.active] : null;
        const before = this.active[1];
        this.active = [Math.max(0, Math.min(this.rows.length - 1, row)), Math.max(0, Math.min(this.columns.length - 1, column))];
        const top = this.active[0] * HEIGHT;
        const room = this.box.clientHeight - this.head.offsetHeight;
        const begins = this.box.scrollTop * this.faster;
        if (top < begins) this.box.scrollTop = top / this.faster;
        if (top + HEIGHT > begins + room) this.box.scrollTop = (top + HEIGHT - room) / this.faster;
        if (this.anchor && this.rows instanceof RowsThere) this.rows.has(Math.min(this.anchor[0], this.active[0]), Math.min(Math.max(this.anchor[0], this.active[0]), Math.min(this.anchor[0], this.active[0]) + COPIED));
        const own = this.shownColumns()[this.active[1]];
        const left = this.lefts[this.active[1]];
        const pinned = this.columns.filter((one) => one.pinned).reduce((sum, one) => sum + one.width, 0);
        if (own && !own.pinned && left - pinned < this.box.scrollLeft) this.box.scrollLeft = left - pinned;
        if (own && left + own.width > this.box.scrollLeft + this.box.clientWidth) this.box.scrollLeft = left + own.width - this.box.clientWidth;
        if (before !== this.active[1]) this.buttons();
        this.draw();
    }

    key(event) {
        const [row, column] = this.active;
        const page = Math.max(1, Math.floor(this.box.clientHeight / HEIGHT) - 2);
        const ways = {
            ArrowDown: [row + 1, column], ArrowUp: [row - 1, column], ArrowLeft: [row, column - 1], ArrowRight: [row, column + 1], PageDown: [row + page, column], PageUp: [row - page, column],
            Home: [event.ctrlKey ? 0 : row, 0], End: [event.ctrlKey ? Infinity : row, Infinity],
        };
        if (ways[event.key] && !event.altKey && !event.metaKey) {
            event.preventDefault();
            this.go(...ways[event.key], event.shiftKey);
        } else if (event.key === 'a' && (event.ctrlKey || event.metaKey)) {
            event.preventDefault();
            this.anchor = [0, 0];
            this.active = [this.rows.length - 1, this.columns.length - 1];
            this.draw();
        } else if (event.key === 'Enter' && event.shiftKey) {
            event.preventDefault();
            this.origin();
        } else if (event.key === 'Enter' && !event.ctrlKey) {
            event.preventDefault();
            this.open();
        } else if (event.key === 'Escape' && !this.opened.hidden) {
            this.opened.hidden = true;
        }
    }

    press(event) {
        const grip = event.target.closest('.grip');
        const name = event.target.closest('.grid-name');
        const cell = event.target.closest('.grid-cell');
        if (grip) return this.widen(event, this.shownColumns()[Number(name.dataset.place)]);
        if (name) {
            const column = this.shownColumns()[Number(name.dataset.place)];
            this.active[1] = Number(name.dataset.place);
            return this.sortBy(column.at, this.sort?.at === column.at && !this.sort.descending);
        }
        if (cell) {
            const [, row, place] = cell.id.split('-').map(Number);
            this.go(row, place, event.shiftKey);
            drag = { moved: (moved) => this.reach(moved.target.closest?.('.grid-cell')), ended: () => {} };
        }
        return null;
    }

    /** Selects up to a cell that the mouse was drawn to. */
    reach(cell) {
        if (!cell || !this.body.contains(cell)) return;
        const [, row, place] = cell.id.split('-').map(Number);
        if (row !== this.active[0] || place !== this.active[1]) this.go(row, place, true);
    }

    widen(event, column) {
        event.preventDefault();
        const [begun, was] = [event.clientX, column.width];
        drag = {
            moved: (moved) => { column.width = Math.max(36, was + moved.clientX - begun); this.heads(); this.draw(); },
            ended: () => remember('width', column.name, String(column.width)),
        };
    }

    sortBy(at, descending) {
        this.sort = { at, descending };
        this.order();
    }

    /** What can be done with the column of the active cell, and with what is selected. */
    buttons() {
        const column = this.shownColumns()[this.active[1]];
        if (!column) return;
        const button = (text, does, pressed = null) => {
            const one = made('button', 'pill', { type: 'button', textContent: text });
            if (pressed !== null) one.setAttribute('aria-pressed', String(pressed));
            one.addEventListener('click', does);
            return one;
        };
        const name = made('span', 's', { textContent: column.name });
        this.acts.replaceChildren(
            name,
            button('↑', () => this.sortBy(column.at, false), this.sort?.at === column.at && !this.sort.descending), button('↓', () => this.sortBy(column.at, true), this.sort?.at === column.at && this.sort.descending),
            button('pin', () => { column.pinned = !column.pinned; remember('pinned', column.name, column.pinned ? 'yes' : null); this.active[1] = this.shownColumns().indexOf(column); this.heads(); this.draw(); }, column.pinned),
            ...(isNumber(column) ? [button('group digits', () => { column.groups = !column.groups; remember('groups', column.name, column.groups ? 'yes' : 'no'); this.heads(); this.draw(); }, column.groups)] : []),
            ...(this.place.dataset.originUrl ? [button('where from', () => this.origin())] : []),
            made('span', 's', { textContent: 'copy as' }),
            button('TSV', () => this.write(() => asTsv(...this.chosen(), true))), button('Markdown', () => this.write(() => asMarkdown(...this.chosen()))), button('INSERT', () => this.write(() => asInsert(...this.chosen(), 'rows'))),
        );
        this.acts.children[1].setAttribute('aria-label', `Sort by ${column.name}, ascending`);
        this.acts.children[2].setAttribute('aria-label', `Sort by ${column.name}, descending`);
    }

    /** What is selected where more than one cell is, otherwise everything. */
    chosen() {
        return this.selected(this.anchor === null);
    }

    async write(text) {
        let all;
        try {
            all = text();
        } catch (cannot) {
            this.says.textContent = cannot.message;
            return;
        }
        try {
            await navigator.clipboard.writeText(all);
            this.says.textContent = this.anchor === null ? 'All rows here are copied.' : 'What is selected is copied.';
        } catch {
            this.says.textContent = 'The browser did not let it be copied.';
        }
    }

    copied(event) {
        event.preventDefault();
        try {
            event.clipboardData.setData('text/plain', asTsv(...this.selected(), false));
        } catch (cannot) {
            this.says.textContent = cannot.message;
        }
    }

    /** Where the value of the active cell comes from. */
    origin() {
        const [row, place] = this.active;
        const column = this.shownColumns()[place];
        const values = this.rows.row(row);
        if (!column || !values) return;
        const cut = this.columns.filter((one) => this.rows.bytes(row, one.at)).map((one) => one.at);
        window.htmx.ajax('POST', this.place.dataset.originUrl, { target: '#origin', swap: 'innerHTML', values: { sql: this.place.dataset.sql, place: column.at, row: JSON.stringify(values), cut: cut.join(',') } })
            .then(() => document.getElementById('origin').scrollIntoView({ block: 'nearest' }));
    }

    open() {
        const [row, place] = this.active;
        const column = this.shownColumns()[place];
        const values = this.rows.row(row);
        if (!column || !values) return;
        const value = values[column.at];
        const bytes = this.rows.bytes(row, column.at);
        const tree = column.kind === 'json' && !bytes && value !== null ? jsonTree(value) : null;
        const head = made('p', 's', { textContent: `${column.name}, row ${row + 1}${bytes ? `: the first ${value.length} characters of ${bytes} bytes; an export has all of it` : ''}` });
        const shut = made('button', 'x', { type: 'button', textContent: '×', ariaLabel: 'Close' });
        shut.addEventListener('click', () => { this.opened.hidden = true; this.box.focus(); });
        head.append(shut);
        const all = tree ?? made('pre', 'grid-value', { textContent: value ?? '—' });
        all.tabIndex = 0;
        this.opened.replaceChildren(head, all);
        this.opened.hidden = false;
        this.opened.setAttribute('role', 'status');
    }
}

export const watchGrids = () => {
    on('mousemove', null, (event) => { if (drag && event.buttons === 1) drag.moved(event); });
    on('mouseup', null, () => { drag?.ended(); drag = null; });
    on('htmx:load', null, (event) => found(event.detail.elt));
};

const found = (element) => {
    const all = [...(element.matches?.('[data-grid]') ? [element] : []), ...(element.querySelectorAll?.('[data-grid]') ?? [])];
    all.filter((place) => !place.dataset.built).forEach((place) => { place.dataset.built = 'yes'; new Grid(place); });
};
