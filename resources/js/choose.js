// Choosing from many rows: a search that hides, a count of what is chosen, and one field that carries it.
import { ChoiceSet } from './choice-set.js';
import { on } from './events.js';
import { holdsAll, wordsOf } from './words.js';

const chosen = new ChoiceSet();
const rows = () => [...document.querySelectorAll(document.querySelector('[data-filter]')?.dataset.filter ?? '[data-row]')];
const boxes = () => [...document.querySelectorAll('[data-choice]')];
const values = (all) => all.map((one) => one.value);

const count = () => {
    const place = document.querySelector('[data-chosen]');
    // Of a list that stands on several pages the page says how many there are.
    if (place) place.textContent = `${chosen.size} of ${place.dataset.chosen || boxes().length} chosen`;
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

const show = () => {
    for (const box of boxes()) box.checked = chosen.has(box.value);
    count();
};

const check = async (event, button) => {
    if (button.dataset.check === 'found') {
        const answer = await fetch(button.dataset.from);
        if (answer.ok) chosen.add((await answer.text()).split('\n').filter((slug) => slug !== ''));
    } else if (button.dataset.check === 'none' && document.querySelector('[data-chosen]')?.dataset.chosen) {
        chosen.clear();
    } else {
        const shown = values(rows().filter((one) => !one.hidden).flatMap((row) => [...row.querySelectorAll('[data-choice]')]));
        if (button.dataset.check === 'all') chosen.add(shown);
        else chosen.remove(shown);
    }
    show();
};

export const watchChoices = () => {
    chosen.add(values(boxes().filter((one) => one.checked)));
    on('input', '[data-filter]', sift);
    on('click', '[data-check]', check);
    on('change', '[data-choice]', (event, box) => {
        if (box.checked) chosen.add([box.value]);
        else chosen.remove([box.value]);
        count();
    });
    on('htmx:afterSwap', null, (event) => {
        if (event.detail.target.id === 'operations' || event.target.id === 'operations') show();
    });
    on('submit', '[data-collect]', (event, form) => {
        document.getElementById(form.dataset.collect).value = chosen.text();
    });
    on('submit', '[data-busy]', (event, form) => {
        form.querySelector('[data-busy-place]').textContent = `${form.dataset.busy}…`;
    });
    count();
};
