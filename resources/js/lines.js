// A field of one line that a text of several is pasted into becomes one of several lines.
import { on } from './events.js';

const widen = (event, field) => {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!/\n./.test(text.replace(/\r\n?/g, '\n'))) return;
    event.preventDefault();
    const area = document.createElement('textarea');
    for (const { name, value } of field.attributes) {
        if (!['type', 'value', 'data-lines'].includes(name)) area.setAttribute(name, value);
    }
    area.classList.add('lines');
    area.rows = 1;
    area.value = field.value.slice(0, field.selectionStart) + text + field.value.slice(field.selectionEnd);
    field.replaceWith(area);
    area.focus();
    area.dispatchEvent(new Event('input', { bubbles: true }));
};

export const watchLines = () => on('paste', 'input[data-lines]', widen);
