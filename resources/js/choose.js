// Choosing from many rows: a search that hides, a count of what is chosen, and one field that carries it.
import { on } from './events.js';
import { holdsAll, wordsOf } from './words.js';

const rows = () => [...document.querySelectorAll(document.querySelector('[data-filter]')?.dataset.filter ?? '[data-none]')];

const count = () => {
    const place = document.querySelector('[data-chosen]');
    if (!place) return;
    const all = document.querySelectorAll('[data-choice]');
    place.textContent = `${[...all].filter((one) => one.checked).length} of ${all.length} chosen`;
};

const sift = (event, field) => {
    const words = wordsOf(field.value);
    for (const row of rows()) row.hidden = !holdsAll(row.dataset.text, words);
    for (const group of document.querySelectorAll('[data-group]')) {
        const shown = [...group.querySelectorAll('[data-row]')].some((row) => !row.hidden);
        group.hidden = !shown;
        if (words.length > 0 && shown) group.open = true;
    }
};

const checkShown = (event, button) => {
    for (const row of rows().filter((one) => !one.hidden)) {
        const box = row.querySelector('[data-choice]');
        if (box) box.checked = button.dataset.check === 'all';
    }
    count();
};

export const watchChoices = () => {
    on('input', '[data-filter]', sift);
    on('click', '[data-check]', checkShown);
    on('change', '[data-choice]', count);
    on('submit', '[data-collect]', (event, form) => {
        document.getElementById(form.dataset.collect).value = [...form.querySelectorAll('[data-choice]:checked')].map((one) => one.value).join('\n');
    });
    on('submit', '[data-busy]', (event, form) => {
        form.querySelector('[data-busy-place]').textContent = `${form.dataset.busy}…`;
    });
    count();
};
