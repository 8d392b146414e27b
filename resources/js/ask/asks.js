// A row for each parameter that stands in the text; values go into the address once they were run with.
import { on } from '../events.js';

const names = (text) => [...new Set([...text.matchAll(/(?<![:\w]):([a-z_]\w*)/gi)].map((found) => found[1]))].join(' ');

/**
 * @param {HTMLFormElement} form
 * @param {() => string} text what stands in the editor
 */
export const watchAsks = (form, text) => {
    let known = names(text());
    const ask = () => {
        known = names(text());
        const values = Object.fromEntries([...new FormData(form)].filter(([name]) => /^[pkdcm]\[/.test(name) || name === 'sql'));
        window.htmx.ajax('POST', document.getElementById('asks').dataset.url, { target: '#asks', swap: 'outerHTML', values });
    };
    let clock;
    document.querySelector('.editor').addEventListener('input', () => {
        clearTimeout(clock);
        clock = setTimeout(() => { if (names(text()) !== known) ask(); }, 400);
    });
    // What is said under settings changes the field of the value.
    on('change', '#asks select[name^="k["], #asks textarea, #asks input[type=checkbox], #asks input[name^="d["]', ask);
    on('htmx:afterRequest', '[data-go]', () => {
        const address = new URL(location.href);
        [...address.searchParams.keys()].filter((name) => name.startsWith('p[') || name === 'run').forEach((name) => address.searchParams.delete(name));
        let given = false;
        for (const [name, value] of new FormData(form)) {
            if (name.startsWith('p[') && value !== '') { address.searchParams.append(name, value); given = true; }
        }
        if (given && form.dataset.query) address.searchParams.set('run', '1');
        history.replaceState(history.state, '', address);
    });
};
