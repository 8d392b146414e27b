// A statement that runs can be stopped: the request carries a mark, by which another request ends it.
import { on } from '../events.js';
import { token } from '../session.js';

const SOON = 700;

export const watchStop = () => {
    const stop = document.getElementById('stop');
    let mark = '';
    let clock;
    on('htmx:configRequest', '[data-go]', (event) => {
        mark = Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16).padStart(2, '0')).join('');
        event.detail.parameters.mark = mark;
    });
    // What is answered at once needs no button that comes and goes.
    on('htmx:beforeRequest', '[data-go]', () => { clearTimeout(clock); clock = setTimeout(() => { stop.hidden = false; stop.disabled = false; }, SOON); });
    on('htmx:afterRequest', '[data-go]', () => { clearTimeout(clock); stop.hidden = true; });
    stop.addEventListener('click', () => {
        stop.disabled = true;
        fetch(stop.dataset.url, { method: 'POST', headers: token(), body: new URLSearchParams({ mark }) });
    });
};
