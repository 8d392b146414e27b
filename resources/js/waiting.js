import { on } from './events.js';
import { token } from './session.js';

let clock;

/** How long the answer is waited for; usual is how long it takes as a rule, or empty. */
export const waited = (milliseconds, usual) => `waiting for the answer, ${(milliseconds / 1000).toFixed(1)} s${usual ? `; usually ${usual}` : ''}`;

const begin = (event) => {
    const { elt } = event.detail;
    // A pressed button is not pressed twice; what is awaited is announced.
    if (!elt.matches('[data-quiet]')) elt.closest('form, button, body').setAttribute('aria-busy', 'true');
    const place = document.querySelector('[data-waiting]');
    if (!place || !elt.closest('[data-slow]') || elt.matches('[data-quick]')) return;
    const begun = performance.now();
    const tick = () => { place.textContent = waited(performance.now() - begun, place.dataset.usual); };
    tick();
    clearInterval(clock);
    clock = setInterval(tick, 100);
    const stop = document.querySelector('[data-stop]');
    if (stop) stop.hidden = false;
};

const end = () => {
    document.querySelectorAll('[aria-busy]').forEach((one) => one.removeAttribute('aria-busy'));
    clearInterval(clock);
    document.querySelectorAll('[data-waiting]').forEach((place) => { place.textContent = ''; });
    document.querySelectorAll('[data-stop]').forEach((stop) => { stop.hidden = true; stop.disabled = false; });
    // What was put in place for somebody to answer gets the focus.
    setTimeout(() => {
        const place = document.querySelector('[data-focus]:not([data-focused])');
        if (!place) return;
        place.dataset.focused = '';
        place.focus();
    }, 30);
};

/** @param {string} page number of this page, by which a try of it is found and stopped */
export const watchWaiting = (page) => {
    on('htmx:beforeRequest', null, begin);
    on('htmx:afterRequest', null, end);
    on('click', '[data-stop]', (event, stop) => {
        stop.disabled = true;
        fetch(stop.dataset.stop, { method: 'POST', headers: { ...token(), 'Content-Type': 'application/x-www-form-urlencoded' }, body: `page=${page}` });
    });
};
