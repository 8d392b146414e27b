// One listener on the document for each kind of event, however many places wait for it.
const kinds = new Map();

const listen = (type, capture) => {
    const key = `${type} ${capture}`;
    if (kinds.has(key)) return kinds.get(key);
    const all = [];
    kinds.set(key, all);
    document.addEventListener(type, (event) => {
        for (const { selector, handle } of all) {
            if (event.cancelBubble) return;
            const found = selector === null ? event.target : event.target.closest?.(selector);
            if (found) handle(event, found);
        }
    }, capture);

    return all;
};

/**
 * Calls handle(event, element) where the event happens in an element that the selector fits.
 *
 * @param {string} type
 * @param {string|null} selector null for wherever it happens
 * @param {(event: Event, element: Element) => void} handle
 * @param {{capture?: boolean}} options capture: before the element itself hears of it
 */
export const on = (type, selector, handle, { capture = false } = {}) => {
    listen(type, capture).push({ selector, handle });
};
