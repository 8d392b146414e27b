// Choosing from many rows: a search that hides, a count of what is chosen, and one field that carries it.
const rows = () => [...document.querySelectorAll(document.querySelector('[data-filter]')?.dataset.filter ?? '[data-none]')];
const count = () => {
    const place = document.querySelector('[data-chosen]');
    if (!place) return;
    const all = document.querySelectorAll('[data-choice]');
    place.textContent = `${[...all].filter((one) => one.checked).length} of ${all.length} chosen`;
};

document.addEventListener('input', (event) => {
    if (!event.target.matches('[data-filter]')) return;
    const words = event.target.value.toLowerCase().split(/\s+/).filter((word) => word !== '');
    for (const row of rows()) row.hidden = !words.every((word) => row.dataset.text.includes(word));
    for (const group of document.querySelectorAll('[data-group]')) {
        const shown = [...group.querySelectorAll('[data-row]')].some((row) => !row.hidden);
        group.hidden = !shown;
        if (words.length > 0 && shown) group.open = true;
    }
});

document.addEventListener('click', (event) => {
    const check = event.target.closest('[data-check]');
    if (!check) return;
    for (const row of rows().filter((one) => !one.hidden)) {
        const box = row.querySelector('[data-choice]');
        if (box) box.checked = check.dataset.check === 'all';
    }
    count();
});

document.addEventListener('change', (event) => {
    if (event.target.matches('[data-choice]')) count();
});

document.addEventListener('submit', (event) => {
    const form = event.target.closest('[data-collect]');
    if (form) document.getElementById(form.dataset.collect).value = [...form.querySelectorAll('[data-choice]:checked')].map((one) => one.value).join('\n');
    const busy = event.target.closest('[data-busy]');
    if (busy) busy.querySelector('[data-busy-place]').textContent = `${busy.dataset.busy}…`;
});

count();
