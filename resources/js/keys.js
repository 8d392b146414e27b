// The keyboard: Ctrl+Enter tries or runs, / finds, [ and ] go from stratum to stratum, ? lists.
import { on } from './events.js';
import { palette } from './palette.js';

const typing = (target) => target.closest('input, textarea, select, [contenteditable=true]');

const toStratum = (step) => {
    const strata = [...document.querySelectorAll('[data-stratum]')];
    if (strata.length === 0) return;
    const here = strata.findIndex((one) => one.contains(document.activeElement));
    const next = strata[Math.min(strata.length - 1, Math.max(0, here + step))];
    next.focus();
    next.scrollIntoView({ block: 'nearest' });
};

const pressed = (event, find) => {
    if (find && (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        find();
        return;
    }
    if ((event.ctrlKey || event.metaKey) && event.key === 'Enter') {
        // What was typed into a field that goes somewhere else than the sheet goes there first.
        const own = event.target.value ? event.target.closest('[data-enter]') : null;
        const go = own ? document.getElementById(own.dataset.enter) : document.querySelector('[data-go]');
        if (go) {
            event.preventDefault();
            go.click();
        }
        return;
    }
    if (event.key === 'Escape') {
        document.querySelectorAll('dialog[open]').forEach((one) => one.close());
        document.querySelectorAll('details.menu[open]').forEach((one) => { one.open = false; });
    }
    if (typing(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === '/' && find) {
        event.preventDefault();
        find();
    }
    if (event.key === '[') toStratum(-1);
    if (event.key === ']') toStratum(1);
    if (event.key === '?') document.getElementById('keys')?.showModal();
};

export const watchKeys = () => {
    const dialog = document.getElementById('palette');
    const find = dialog ? palette(dialog, window) : null;
    on('keydown', null, (event) => pressed(event, find));
    on('click', '[data-palette]', (event) => {
        if (!find || event.ctrlKey || event.metaKey) return;
        event.preventDefault();
        find();
    });
    on('click', '[data-keys]', () => document.getElementById('keys')?.showModal());
    on('click', '[data-close]', (event, button) => button.closest('dialog')?.close());
};
