// JSON as a tree of parts that open, with as much of it in the page as somebody looks at.
const made = (tag, className, text = '') => Object.assign(document.createElement(tag), { className, textContent: text });

const FIRST = 200;

/** A number as it is written, which may have more digits than a script keeps. */
class Written {
    constructor(text) {
        this.text = text;
    }
}

const exact = (key, value, context) => (typeof value === 'number' && context?.source ? new Written(context.source) : value);

const part = (name, value) => {
    if (value === null || typeof value !== 'object' || value instanceof Written) {
        const leaf = made('div', 'json-leaf');
        leaf.append(made('span', 'name', name === null ? '' : `${name}: `), value instanceof Written ? value.text : JSON.stringify(value));
        return leaf;
    }
    const entries = Array.isArray(value) ? value.map((one, place) => [String(place), one]) : Object.entries(value);
    const whole = made('details', 'json-part');
    const head = made('summary', '');
    head.append(made('span', 'name', name === null ? '' : `${name}: `), made('span', 's', Array.isArray(value) ? `${entries.length} elements` : `${entries.length} members`));
    whole.append(head);
    const fill = (from) => {
        whole.append(...entries.slice(from, from + FIRST).map(([key, one]) => part(key, one)));
        if (entries.length <= from + FIRST) return;
        const more = Object.assign(made('button', 'link', `${entries.length - from - FIRST} more`), { type: 'button' });
        more.addEventListener('click', () => { more.remove(); fill(from + FIRST); });
        whole.append(more);
    };
    whole.addEventListener('toggle', () => { if (whole.open && whole.children.length === 1) fill(0); });
    return whole;
};

/**
 * @param {string} text
 * @returns {Element|null} null for what is no object and no list
 */
export const jsonTree = (text) => {
    try {
        const value = JSON.parse(text, exact);
        if (value === null || typeof value !== 'object' || value instanceof Written) return null;
        const tree = part(null, value);
        tree.classList.add('json-tree');
        tree.open = true;
        return tree;
    } catch {
        return null;
    }
};
