// Blocks of cells as text, as spreadsheets write and read them: tabs between cells, lines between rows, quotes around
// what holds either.
export const parseBlock = (text) => {
    const rows = [[]];
    let cell = '';
    let quoted = false;
    for (let at = 0; at < text.length; at++) {
        const char = text[at];
        if (quoted) {
            if (char === '"' && text[at + 1] === '"') {
                cell += '"';
                at++;
            } else if (char === '"') {
                quoted = false;
            } else {
                cell += char;
            }
        } else if (char === '"' && cell === '') {
            quoted = true;
        } else if (char === '\t' || char === '\n' || char === '\r') {
            rows[rows.length - 1].push(cell);
            cell = '';
            if (char !== '\t') rows.push([]);
            if (char === '\r' && text[at + 1] === '\n') at++;
        } else {
            cell += char;
        }
    }
    rows[rows.length - 1].push(cell);
    // The line break at the end of what was copied begins no row.
    if (rows.length > 1 && rows[rows.length - 1].length === 1 && rows[rows.length - 1][0] === '') rows.pop();
    return rows;
};

export const writeBlock = (rows) =>
    rows.map((row) => row.map((cell) => (/["\t\n\r]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell)).join('\t')).join('\n');
