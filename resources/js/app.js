import htmx from 'htmx.org';
import './account.js';
import './choose.js';
import './keys.js';
import './shape.js';
import './sheet.js';
import './watershed.js';

window.htmx = htmx;

// The cookie is renewed when somebody signs in again in another tab, which the page cannot be.
const token = () => {
    const cookie = document.cookie.split('; ').find((one) => one.startsWith('XSRF-TOKEN='));
    return cookie ? { 'X-XSRF-TOKEN': decodeURIComponent(cookie.slice(11)) } : { 'X-CSRF-TOKEN': document.querySelector('meta[name=csrf-token]').content };
};

document.addEventListener('htmx:configRequest', (event) => {
    Object.assign(event.detail.headers, token());
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
document.addEventListener('htmx:beforeRequest', (event) => {
    if (!event.detail.elt.matches('[data-quiet]')) event.detail.elt.closest('form, button, body').setAttribute('aria-busy', 'true');
});
document.addEventListener('htmx:afterRequest', (event) => document.querySelectorAll('[aria-busy]').forEach((one) => one.removeAttribute('aria-busy')));

// Long work says how long it has taken.
let clock;
document.addEventListener('htmx:beforeRequest', (event) => {
    const place = document.querySelector('[data-waiting]');
    if (!place || !event.detail.elt.closest('[data-slow]')) return;
    const begun = performance.now();
    const usual = place.dataset.usual ? `; usually ${place.dataset.usual}` : '';
    const tick = () => { place.textContent = `waiting for the answer, ${((performance.now() - begun) / 1000).toFixed(1)} s${usual}`; };
    tick();
    clearInterval(clock);
    clock = setInterval(tick, 100);
    const stop = document.querySelector('[data-stop]');
    if (stop) stop.hidden = false;
});
document.addEventListener('htmx:afterRequest', () => {
    clearInterval(clock);
    document.querySelectorAll('[data-waiting]').forEach((place) => { place.textContent = ''; });
    document.querySelectorAll('[data-stop]').forEach((stop) => { stop.hidden = true; stop.disabled = false; });
});

// What was put in place for somebody to answer gets the focus.
document.addEventListener('htmx:afterRequest', () => setTimeout(() => {
    const place = document.querySelector('[data-focus]:not([data-focused])');
    if (!place) return;
    place.dataset.focused = '';
    place.focus();
}, 30));

document.addEventListener('click', (event) => {
    const clear = event.target.closest('[data-clear]');
    if (clear) document.getElementById(clear.dataset.clear).replaceChildren();
    const unfold = event.target.closest('[data-unfold]');
    if (unfold) {
        const place = document.getElementById(unfold.dataset.unfold);
        place.hidden = !place.hidden;
        unfold.setAttribute('aria-expanded', String(!place.hidden));
    }
    const stop = event.target.closest('[data-stop]');
    if (stop) {
        stop.disabled = true;
        fetch(stop.dataset.stop, { method: 'POST', headers: { ...token(), 'Content-Type': 'application/x-www-form-urlencoded' }, body: `page=${window.sheetPage}` });
    }
});

// A file as the value of an input travels as a data URL with its name.
document.addEventListener('change', (event) => {
    const place = event.target.dataset?.fileFor;
    const file = place ? event.target.files[0] : undefined;
    if (!file) return;
    event.stopPropagation();
    if (file.size > Number(event.target.dataset.most)) {
        notice(`${file.name} is larger than what is kept to try with (256 KB). Give it on the command line with --in NAME=@FILE.`);
        return;
    }
    const reader = new FileReader();
    reader.addEventListener('load', () => {
        const value = document.getElementById(place);
        value.value = reader.result.replace(/^data:([^;,]*)/, (_, type) => `data:${type || 'application/octet-stream'};name=${encodeURIComponent(file.name)}`);
        document.querySelector(`label[for="${event.target.id}"]`).textContent = `${file.name}, ${file.size} B`;
        value.dispatchEvent(new Event('change', { bubbles: true }));
    });
    reader.readAsDataURL(file);
}, true);

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
