// Where the rows of a grid come from: those that came with the page, or all of a result, in parts from the server.
import { token } from '../session.js';
import { compare } from './cells.js';

const PARTS_HELD = 80;

/** Rows that came with the page; sorting and finding look at these. */
export class RowsHere {
    constructor(data) {
        this.all = data.rows;
        this.cut = new Map(data.cut.map(([row, column, bytes]) => [`${row} ${column}`, bytes]));
        this.numbers = this.all.map((row, number) => number);
        this.of = this.all.length;
    }

    get length() {
        return this.numbers.length;
    }

    row(at) {
        return this.all[this.numbers[at]];
    }

    /** Bytes of a value of which only the beginning is here. */
    bytes(at, column) {
        return this.cut.get(`${this.numbers[at]} ${column}`);
    }

    arrange(sort, text, columns) {
        this.numbers = [];
        this.all.forEach((row, number) => {
            if (text === '' || row.some((value) => value !== null && value.toLowerCase().includes(text))) this.numbers.push(number);
        });
        if (!sort) return;
        const by = compare(columns[sort.at]);
        const way = sort.descending ? -1 : 1;
        this.numbers.sort((a, b) => way * by(this.all[a][sort.at], this.all[b][sort.at]) || a - b);
    }
}

/** All rows of a result that the server keeps. */
export class RowsThere {
    /**
     * @param {string} url of a part, which ends with the numbers of the result and of the part
     * @param {{result: number, rows: number, part: number}} told
     * @param {() => void} came called when rows have come
     */
    constructor(url, told, came) {
        Object.assign(this, { url: url.replace(/\/0\/0$/, `/${told.result}/`), length: told.rows, part: told.part, came });
        this.of = told.rows;
        this.parts = new Map();
        this.fault = null;
    }

    row(at) {
        return this.held(at)?.rows[at % this.part] ?? null;
    }

    bytes(at, column) {
        return this.held(at)?.cut.get(`${at % this.part} ${column}`);
    }

    held(at) {
        const number = Math.floor(at / this.part);
        const part = this.parts.get(number);
        if (part === undefined) this.fetch(number);
        return part ?? null;
    }

    /** Asks for what is between two rows; true where all of it is here. */
    has(from, to) {
        let all = true;
        for (let at = from - (from % this.part); at <= to; at += this.part) all = this.held(at) !== null && all;
        return all;
    }

    async fetch(number) {
        this.parts.set(number, null);
        try {
            const answer = await fetch(this.url + number, { headers: { Accept: 'application/json' } });
            const data = await answer.json();
            if (!answer.ok) throw new Error(data.fault);
            this.parts.set(number, { rows: data.rows, cut: new Map(data.cut.map(([row, column, bytes]) => [`${row} ${column}`, bytes])) });
            for (const old of [...this.parts.keys()].slice(0, Math.max(0, this.parts.size - PARTS_HELD))) this.parts.delete(old);
        } catch (failed) {
            this.fault = failed.message || 'The server cannot be reached.';
        }
        this.came();
    }
}

/**
 * Has the server read all rows.
 *
 * @param {string} url
 * @param {Record<string, string>} values
 * @param {(rows: number) => void} progress
 * @param {AbortSignal} signal
 * @returns {Promise<{result: number, rows: number, cut: boolean, part: number}>}
 */
export const readAll = async (url, values, progress, signal) => {
    const answer = await fetch(url, { method: 'POST', signal, headers: { ...token(), Accept: 'application/x-ndjson' }, body: new URLSearchParams(values) });
    if (!answer.ok) throw new Error(`The server answered ${answer.status}.`);
    const lines = answer.body.pipeThrough(new TextDecoderStream()).getReader();
    let text = '';
    for (;;) {
        const { done, value } = await lines.read();
        text += value ?? '';
        const whole = text.split('\n');
        text = whole.pop();
        for (const line of whole.filter((one) => one !== '').map((one) => JSON.parse(one))) {
            if (line.fault) throw new Error(line.fault);
            if (line.result) return line;
            progress(line.rows);
        }
        if (done) throw new Error('The answer broke off.');
    }
};
