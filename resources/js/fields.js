import { on } from './events.js';

const fill = (event, button) => {
    const field = document.getElementById(button.dataset.fill);
    field.value = button.dataset.value;
    field.focus();
    if (button.dataset.then) document.getElementById(button.dataset.then)?.focus();
    else field.dispatchEvent(new Event('change', { bubbles: true }));
};

const unfold = (event, button) => {
    const place = document.getElementById(button.dataset.unfold);
    place.hidden = !place.hidden;
    button.setAttribute('aria-expanded', String(!place.hidden));
};

const copy = async (event, button) => {
    await navigator.clipboard.writeText(button.dataset.copy);
    const was = button.textContent;
    button.textContent = 'copied';
    setTimeout(() => { button.textContent = was; }, 1200);
};

/** Where the focus goes once what was pressed has made it: a selector, of which the last is meant. */
let led = null;

const lead = () => {
    const place = led === null ? null : [...document.querySelectorAll(led)].pop();
    led = null;
    if (!place) return;
    // A value that is kept apart has its field elsewhere, and a button that leads there.
    const apart = place.querySelector('[data-first]');
    const field = place.matches('input, select, textarea') ? place : place.querySelector('input:not([type=hidden]), select, textarea');
    if (apart) {
        apart.click();
        return;
    }
    field?.focus();
    // What stands in it is only a suggestion.
    if (field?.matches('input:not([type=checkbox])')) field.select();
};

/** What was pressed is answered further down: there, so that it is seen. */
let shown = null;

const show = () => {
    const place = shown === null ? null : document.getElementById(shown);
    shown = null;
    place?.scrollIntoView({ block: 'start' });
};

export const watchFields = () => {
    on('click', '[data-leads]', (event, button) => { led = button.dataset.leads; });
    on('htmx:afterSettle', null, lead);
    on('click', '[data-shows]', (event, button) => { shown = button.dataset.shows; });
    on('htmx:afterSettle', null, show);
    on('click', '[data-clear]', (event, button) => document.getElementById(button.dataset.clear).replaceChildren());
    on('click', '[data-unfold]', unfold);
    on('click', '[data-copy]', copy);
    on('click', '[data-fill]', fill);
    on('change', '[data-submits]', (event, field) => field.form.requestSubmit());
    // A click beside an open menu closes it.
    on('click', null, (event) => {
        const menu = document.querySelector('details.menu[open]');
        if (menu && !menu.contains(event.target)) menu.open = false;
    });
};
