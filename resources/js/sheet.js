// A sheet sends every change as it is made, so several requests can be on their way at once. They
// carry their number, by which the server keeps an older one from overwriting a newer one.
const page = Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16).padStart(2, '0')).join('');
window.sheetPage = page;
let sent = 0;
let shown = 0;
const typed = new Map();

const isSheet = (element) => element.id === 'sheet' || element.closest('#sheet') !== null;
const numberOf = (detail) => Number((detail.requestConfig.headers['X-Sheet'] ?? '').split(':')[1] ?? 0);
const form = () => document.querySelector('#sheet form[hx-post]');

document.addEventListener('input', (event) => {
    if (event.target.id && isSheet(event.target) && event.target.form === form()) typed.set(event.target.id, event.target);
});

// While a button has the whole sheet made anew, nothing else is sent: it would come from fields that
// are about to be replaced, and undo what the button did. What was typed meanwhile goes with the new
// sheet; another button is pressed again once that is there.
let anew = 0;
let next = null;

document.addEventListener('htmx:configRequest', (event) => {
    const { elt, target, triggeringEvent, verb } = event.detail;
    if (verb === 'get' || !isSheet(elt) || elt.matches('[data-aside]')) return;
    if (anew !== 0) {
        event.preventDefault();
        if (target.id === 'sheet') next = elt.id || null;
        else if (triggeringEvent?.target?.id && triggeringEvent.target.form === form()) typed.set(triggeringEvent.target.id, triggeringEvent.target);
        return;
    }
    event.detail.headers['X-Sheet'] = `${page}:${++sent}`;
    if (target.id === 'sheet') anew = sent;
    typed.clear();
});

const settled = () => {
    anew = 0;
    if (next === null) return;
    const id = next;
    next = null;
    setTimeout(() => document.getElementById(id)?.click());
};

document.addEventListener('htmx:afterRequest', (event) => {
    if (anew !== 0 && numberOf(event.detail) === anew) settled();
});

// An answer that was overtaken by a newer one is not shown; what is true now is asked for instead.
document.addEventListener('htmx:beforeSwap', (event) => {
    const number = numberOf(event.detail);
    if (number === 0 || !event.detail.shouldSwap) return;
    if (number < shown) {
        event.detail.shouldSwap = false;
        form()?.dispatchEvent(new CustomEvent('overtaken', { bubbles: true }));
    }
    shown = Math.max(shown, number);
});

// One whose place has left the page, because all of the sheet was sent anew meanwhile, goes to what
// is there now, and is judged by its number like any other.
document.addEventListener('htmx:beforeSend', (event) => {
    const { xhr, target, requestConfig } = event.detail;
    if (requestConfig.headers['X-Sheet'] === undefined) return;
    xhr.addEventListener('readystatechange', () => {
        if (xhr.readyState !== XMLHttpRequest.DONE || document.contains(target)) return;
        event.detail.target = (target.id === 'sheet' ? document.getElementById('sheet') : form()) ?? target;
    });
});

// What was typed while a new sheet was on its way is put into it, and saved.
document.addEventListener('htmx:afterSwap', (event) => {
    if (event.detail.target.id !== 'sheet') return;
    settled();
    if (typed.size === 0) return;
    for (const [id, old] of typed) {
        const now = document.getElementById(id);
        if (now && now !== old && now.tagName === old.tagName) {
            if (old.type === 'checkbox') now.checked = old.checked;
            else now.value = old.value;
        }
    }
    typed.clear();
    form()?.dispatchEvent(new Event('change', { bubbles: true }));
});

// A press that began on a button counts, even when an answer moved the button away under the
// pointer before it was let go.
let pressed = null;
document.addEventListener('pointerdown', (event) => {
    const button = event.target.closest?.('#sheet button');
    pressed = button && event.button === 0 ? { button, x: event.clientX, y: event.clientY } : null;
}, true);
document.addEventListener('click', (event) => {
    // One that was moved away leaves the click to whatever holds both places.
    if (pressed && event.target.closest?.('button') === pressed.button) pressed = null;
}, true);
document.addEventListener('pointerup', (event) => {
    const was = pressed;
    if (!was || Math.hypot(event.clientX - was.x, event.clientY - was.y) > 6) return;
    setTimeout(() => {
        if (pressed !== was) return;
        pressed = null;
        const now = was.button.isConnected ? was.button : (was.button.id && document.getElementById(was.button.id));
        if (now && !now.disabled) now.click();
    });
}, true);
