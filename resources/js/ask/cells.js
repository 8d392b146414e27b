// What a value looks like in a cell, and as it is copied.

const SIGNS = { space: '', comma: ',', dot: '.', plain: null };

/**
 * A value as nodes: digits of an amount in groups that are drawn and not copied, null and an empty text told
 * apart, line ends as a sign.
 *
 * @param {string|null} value
 * @param {{kind: string, groups: boolean}} column
 * @param {string} numbers what stands between groups: space, comma, dot or plain
 * @returns {Node}
 */
export const shown = (value, column, numbers) => {
    if (value === null) return dim('—', 'no value (null)');
    if (value === '') return dim('""', 'an empty text');
    if (column.kind === 'moment') return document.createTextNode(value.replace(/\.0+$/, ''));
    const amount = column.groups && numbers !== 'plain' && /^(-?)(\d{4,})(\.\d+)?$/.exec(value);
    if (!amount) return document.createTextNode(value.length > 200 ? `${value.slice(0, 200).replace(/\r\n|\n|\r/g, ' ⏎ ')}…` : value.replace(/\r\n|\n|\r/g, ' ⏎ '));
    const all = document.createElement('span');
    const groups = amount[2].split(/(?=(?:\d{3})+$)/);
    all.append(amount[1]);
    groups.forEach((digits, place) => {
        if (place > 0) {
            const gap = document.createElement('i');
            gap.className = `gap ${numbers}`;
            gap.dataset.sign = SIGNS[numbers];
            all.append(gap);
        }
        all.append(digits);
    });
    if (amount[3] && numbers === 'dot') {
        const point = Object.assign(document.createElement('i'), { className: 'point', textContent: '.' });
        point.dataset.sign = ',';
        all.append(point, amount[3].slice(1));
    } else {
        all.append(amount[3] ?? '');
    }
    return all;
};

const dim = (text, title) => Object.assign(document.createElement('span'), { className: 'dim', textContent: text, title });

/** Characters that a value takes, at most so many. */
export const width = (value, column) => (value === null ? 1 : Math.min(60, value.length + (column.groups ? Math.floor((value.length - 1) / 3) * 0.3 : 0)));

const quoted = (text) => (/[\t\r\n"]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

/** As a spreadsheet takes it from the clipboard. */
export const asTsv = (columns, rows, withHead) => [...(withHead ? [columns.map((column) => column.name)] : []), ...rows].map((row) => row.map((value) => quoted(value ?? '')).join('\t')).join('\n');

const escaped = (text) => text.replace(/[\\|*_`[]/g, '\\$&').replaceAll('&', '&amp;').replaceAll('<', '&lt;').replace(/\r\n|\n|\r/g, '<br>');

export const asMarkdown = (columns, rows) => [
    `| ${columns.map((column) => escaped(column.name)).join(' | ')} |`,
    `|${columns.map((column) => (isNumber(column) ? '---:' : '---')).join('|')}|`,
    ...rows.map((row) => `| ${row.map((value) => escaped(value ?? '')).join(' | ')} |`),
].join('\n');

export const isNumber = (column) => column.kind === 'amount' || column.kind === 'number';

const literal = (value, column) => {
    if (value === null) return 'null';
    return isNumber(column) ? value : `'${value.replaceAll('\\', '\\\\').replaceAll("'", "''")}'`;
};

const named = (name) => `\`${name.replaceAll('`', '``')}\``;

/** As a statement that puts the rows into a table of that name. */
export const asInsert = (columns, rows, table) => `insert into ${named(table)} (${columns.map((column) => named(column.name)).join(', ')}) values\n${rows.map((row) => `(${row.map((value, place) => literal(value, columns[place])).join(', ')})`).join(',\n')};`;

/** Of two values of a column: numbers by size, texts by their signs, null first. */
export const compare = (column) => (a, b) => {
    if (a === b) return 0;
    if (a === null || b === null) return a === null ? -1 : 1;
    if (isNumber(column)) {
        const difference = Number(a) - Number(b);
        if (difference !== 0 && Math.abs(Number(a)) < 1e15) return difference;
        return byDigits(a, b);
    }
    return a < b ? -1 : 1;
};

// Numbers of more digits than a script keeps.
const byDigits = (a, b) => {
    const [minusA, minusB] = [a.startsWith('-'), b.startsWith('-')];
    if (minusA !== minusB) return minusA ? -1 : 1;
    const parts = (text) => text.replace('-', '').split('.');
    const [[wholeA, restA = ''], [wholeB, restB = '']] = [parts(a), parts(b)];
    const order = wholeA.length - wholeB.length || (wholeA < wholeB ? -1 : Number(wholeA > wholeB)) || (restA < restB ? -1 : Number(restA > restB));
    return minusA ? -order : order;
};
