// An export says how far it is, can be stopped, and is fetched once all of it is there.
import { on } from '../events.js';

export const watchExports = () => {
    const field = document.getElementById('export-token');
    const progress = document.getElementById('export-progress');
    let clock;
    const address = (more) => `${progress.dataset.url.replace('TOKEN', field.value)}?${more}`;

    on('htmx:configRequest', '[data-export]', (event) => {
        field.value = Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16).padStart(2, '0')).join('');
        event.detail.parameters.token = field.value;
    });
    on('htmx:beforeRequest', '[data-export]', () => {
        document.getElementById('exported').replaceChildren();
        const stop = Object.assign(document.createElement('button'), { type: 'button', className: 'btn small', textContent: 'Stop' });
        stop.addEventListener('click', () => fetch(address('stop=1')));
        const says = document.createElement('span');
        says.textContent = 'Writing … ';
        progress.replaceChildren(says, stop);
        clearInterval(clock);
        clock = setInterval(async () => {
            const rows = await (await fetch(address('about=1'))).text();
            if (rows !== '') says.textContent = `${Number(rows).toLocaleString('en').replaceAll(',', '\u2009')} rows … `;
        }, 1000);
    });
    on('htmx:afterRequest', '[data-export]', () => { clearInterval(clock); progress.replaceChildren(); });
    on('htmx:load', null, (event) => event.detail.elt.parentElement?.querySelector('#exported [data-download]:not([data-begun])')?.click());
    on('click', '[data-download]', (event, link) => { link.dataset.begun = 'yes'; });
};
