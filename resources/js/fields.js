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

export const watchFields = () => {
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
