// A sheet that saves itself: see sheet-order.js for which of its requests leave and which answers are shown.
import { on } from './events.js';
import { SheetOrder } from './sheet-order.js';

const isSheet = (element) => element.id === 'sheet' || element.closest('#sheet') !== null;
const numberOf = (detail) => SheetOrder.number(detail.requestConfig.headers['X-Sheet']);
const form = () => document.querySelector('#sheet form[hx-post]');

/** @param {string} page */
const watchOrder = (page) => {
    const order = new SheetOrder(page);
    /** What was typed since the last request left: id of the field → the field. */
    const typed = new Map();
    /** Whether something was to be saved and had to wait. */
    let again = false;
    /** Whether a new sheet is on the page that listens to nothing yet. */
    let isNew = false;
    /** The button that is pressed again, or the list that is chosen from again, once the new sheet is there. */
    let next = null;

    // The whole sheet is there, or will not come: what had to wait leaves now.
    const settle = () => {
        order.settle();
        const isAwaited = again;
        again = false;
        if (isAwaited) form()?.dispatchEvent(new Event('change', { bubbles: true }));
        if (next === null) return;
        const id = next;
        next = null;
        setTimeout(() => {
            const now = document.getElementById(id);
            if (now?.tagName === 'SELECT') now.dispatchEvent(new Event('change', { bubbles: true }));
            else now?.click();
        });
    };

    // What was typed while a new sheet was on its way is put into it.
    const restore = () => {
        for (const [id, old] of typed) {
            const now = document.getElementById(id);
            if (!now || now === old || now.tagName !== old.tagName) continue;
            if (old.type === 'checkbox') now.checked = old.checked;
            else now.value = old.value;
        }
        again ||= typed.size > 0;
        typed.clear();
    };

    on('input', '#sheet *', (event) => {
        if (event.target.id && event.target.form === form()) typed.set(event.target.id, event.target);
    });

    // A field that stands apart from its form, as the name under More does, is saved with it.
    on('change', '#sheet [form]', (event, field) => {
        if (field.form === form() && !form().contains(field)) form().dispatchEvent(new Event('change', { bubbles: true }));
    });

    // What was typed while the whole sheet is made anew goes with the new sheet.
    on('htmx:configRequest', null, (event) => {
        const { elt, target, triggeringEvent, verb } = event.detail;
        if (verb === 'get' || !isSheet(elt) || elt.matches('[data-aside]')) return;
        const header = order.leave(target.id === 'sheet');
        if (header === null) {
            event.preventDefault();
            if (target.id === 'sheet' && elt !== form()) {
                next = elt.id || null;
                if (next !== null && elt.form === form()) typed.set(next, elt);
                return;
            }
            again ||= elt === form();
            if (triggeringEvent?.target?.id && triggeringEvent.target.form === form()) typed.set(triggeringEvent.target.id, triggeringEvent.target);
            return;
        }
        event.detail.headers['X-Sheet'] = header;
        typed.clear();
    });

    on('htmx:afterRequest', null, (event) => {
        if (!isNew && order.isWhole(numberOf(event.detail))) settle();
    });

    // An answer that was overtaken by a newer one is not shown; what is true now is asked for instead.
    on('htmx:beforeSwap', null, (event) => {
        const number = numberOf(event.detail);
        if (number === 0 || !event.detail.shouldSwap || order.show(number)) return;
        event.detail.shouldSwap = false;
        form()?.dispatchEvent(new CustomEvent('overtaken', { bubbles: true }));
    });

    // One whose place has left the page, because all of the sheet was sent anew meanwhile, goes to what
    // is there now, and is judged by its number like any other.
    on('htmx:beforeSend', null, (event) => {
        const { xhr, target, requestConfig } = event.detail;
        if (requestConfig.headers['X-Sheet'] === undefined) return;
        xhr.addEventListener('readystatechange', () => {
            if (xhr.readyState !== XMLHttpRequest.DONE || document.contains(target)) return;
            event.detail.target = (target.id === 'sheet' ? document.getElementById('sheet') : form()) ?? target;
        });
    });

    on('htmx:afterSwap', null, (event) => {
        if (event.detail.target.id !== 'sheet') return;
        // The tree of the answer outlives its sheet; what was offered for one of its nodes does not.
        document.getElementById('node-acts')?.replaceChildren();
        restore();
        isNew = true;
    });

    on('htmx:afterSettle', null, () => {
        if (!isNew) return;
        isNew = false;
        again ||= typed.size > 0;
        settle();
    });
};

// A press that began on a button counts, even when an answer moved the button away under the
// pointer before it was let go.
const watchPresses = () => {
    let pressed = null;
    on('pointerdown', null, (event) => {
        const button = event.target.closest?.('button');
        pressed = button && event.button === 0 ? { button, x: event.clientX, y: event.clientY } : null;
    }, { capture: true });
    on('click', 'button', (event, button) => {
        // One that was moved away leaves the click to whatever holds both places.
        if (pressed && button === pressed.button) pressed = null;
    }, { capture: true });
    on('pointerup', null, (event) => {
        const was = pressed;
        if (!was || Math.hypot(event.clientX - was.x, event.clientY - was.y) > 6) return;
        setTimeout(() => {
            if (pressed !== was) return;
            pressed = null;
            const now = was.button.isConnected ? was.button : (was.button.id && document.getElementById(was.button.id));
            if (now && !now.disabled) now.click();
        });
    }, { capture: true });
};

/** @param {string} page */
export const watchSheet = (page) => {
    watchOrder(page);
    watchPresses();
};
