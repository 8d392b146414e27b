import htmx from 'htmx.org';
import './keys.js';
import './sheet.js';
import './watershed.js';

window.htmx = htmx;

document.addEventListener('htmx:configRequest', (event) => {
    event.detail.headers['X-CSRF-TOKEN'] = document.querySelector('meta[name=csrf-token]').content;
});

const notice = (text) => {
    const place = document.getElementById('notice');
    place.textContent = text;
    place.hidden = text === '';
};

// A request that failed says so, and leaves what was typed where it is.
document.addEventListener('htmx:responseError', (event) => {
    const status = event.detail.xhr.status;
    notice(status === 419 || status === 401
        ? 'Your session has ended. Sign in again in another tab, then repeat this; what you typed is still here.'
        : `That did not work: the server answered ${status}. What you typed is still here.`);
});
document.addEventListener('htmx:sendError', () => notice('The server cannot be reached. What you typed is still here.'));
document.addEventListener('htmx:beforeRequest', () => notice(''));

// A pressed button is not pressed twice; what is awaited is announced.
document.addEventListener('htmx:beforeRequest', (event) => event.detail.elt.closest('form, button, body').setAttribute('aria-busy', 'true'));
document.addEventListener('htmx:afterRequest', (event) => document.querySelectorAll('[aria-busy]').forEach((one) => one.removeAttribute('aria-busy')));

// Long work says how long it has taken.
let clock;
document.addEventListener('htmx:beforeRequest', (event) => {
    const place = document.querySelector('[data-waiting]');
    if (!place || !event.detail.elt.closest('[data-slow]')) return;
    const begun = performance.now();
    const tick = () => { place.textContent = `waiting for the answer, ${((performance.now() - begun) / 1000).toFixed(1)} s`; };
    tick();
    clock = setInterval(tick, 100);
});
document.addEventListener('htmx:afterRequest', () => {
    clearInterval(clock);
    document.querySelectorAll('[data-waiting]').forEach((place) => { place.textContent = ''; });
});

document.addEventListener('click', async (event) => {
    const copy = event.target.closest('[data-copy]');
    if (copy) {
        await navigator.clipboard.writeText(copy.dataset.copy);
        const was = copy.textContent;
        copy.textContent = 'copied';
        setTimeout(() => { copy.textContent = was; }, 1200);
    }
    const menu = document.querySelector('details.menu[open]');
    if (menu && !menu.contains(event.target)) menu.open = false;
});

document.addEventListener('change', (event) => {
    if (event.target.matches('[data-submits]')) event.target.form.requestSubmit();
});

document.addEventListener('click', (event) => {
    const fill = event.target.closest('[data-fill]');
    if (fill) {
        const field = document.getElementById(fill.dataset.fill);
        field.value = fill.dataset.value;
        field.focus();
        if (fill.dataset.then) document.getElementById(fill.dataset.then)?.focus();
        else field.dispatchEvent(new Event('change', { bubbles: true }));
    }
});
