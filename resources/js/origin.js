// A click on a value of a table's page asks where it comes from, like the link of its row.
import { on } from './events.js';

export const watchOrigins = () => on('click', 'tr[data-origin] td', (event, cell) => {
    const link = cell.parentElement.querySelector('a');
    const head = cell.closest('table').querySelectorAll('thead th')[cell.cellIndex];
    if (cell.cellIndex === 0 || String(getSelection()) !== '') return;
    const address = new URL(link.href);
    address.searchParams.set('column', head.textContent.replace(/ [↑↓]$/, '').trim());
    location.href = address;
});
