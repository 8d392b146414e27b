// The tree of fields: folded, searched, and walked through by the keys.
import { on } from '../events.js';
import { holdsAll, wordsOf } from '../words.js';
import { draw } from './ribbons.js';

/** id of a field → aria-expanded, as the person left it */
const open = new Map();
let filter = '';

const isShown = (element) => element.offsetParent !== null;

const sift = () => {
    const words = wordsOf(filter);
    let shown = 0;
    const look = (field) => {
        const below = [...field.querySelectorAll(':scope > ul > .seen-field')].map(look).some(Boolean);
        const fits = holdsAll(field.dataset.text, words);
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

const walk = (event, field, send) => {
    if (event.target !== field || event.ctrlKey || event.altKey || event.metaKey) return;
    const all = [...document.querySelectorAll('.seen-field')].filter((one) => isShown(one.querySelector('.line')));
    const here = all.indexOf(field);
    const isOpen = field.getAttribute('aria-expanded');
    const toggle = () => send({ do: field.classList.contains('used') ? 'exclude' : (event.shiftKey ? 'add-leaves' : 'add'), path: field.dataset.path }, field.id);
    const steps = {
        ArrowDown: () => go(all[here + 1]), ArrowUp: () => go(all[here - 1]), Home: () => go(all[0]), End: () => go(all[all.length - 1]),
        ArrowRight: () => (isOpen === 'false' ? fold(field, true) : go(field.querySelector('.seen-field'))),
        ArrowLeft: () => (isOpen === 'true' ? fold(field, false) : go(field.parentElement.closest('.seen-field'))),
        Enter: toggle, ' ': toggle,
    };
    if (!steps[event.key]) return;
    event.preventDefault();
    steps[event.key]();
};

const restore = () => {
    for (const [id, isOpen] of open) document.getElementById(id)?.setAttribute('aria-expanded', isOpen);
    const field = document.getElementById('field-filter');
    if (field && filter) {
        field.value = filter;
        sift();
    }
    const first = document.querySelector('.seen-field[tabindex="0"]') ?? document.querySelector('.seen-field');
    if (first) first.tabIndex = 0;
};

/**
 * @param {(values: object, focus?: string) => void} send
 * @returns {() => void} tells a new tree of the old one
 */
export const watchFields = (send) => {
    on('keydown', '#shape .seen-field', (event, field) => walk(event, field, send));
    // A click on a field goes to it, for the keys.
    on('click', '#shape .seen-field', (event, field) => { if (!event.target.closest('button')) go(field); });
    on('click', '#shape button.fold', (event, button) => {
        const field = button.closest('.seen-field');
        fold(field, field.getAttribute('aria-expanded') !== 'true');
    });
    on('input', '#field-filter', (event, field) => {
        filter = field.value;
        sift();
    });

    return restore;
};
