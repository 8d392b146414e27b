import { on } from './events.js';

// Hovering or focusing a box lights its whole course, up and down the stream.
export const reach = (bands, start, from, to) => {
    const found = new Set([start]);
    for (const id of found) {
        bands.filter((band) => band.dataset[from] === id).forEach((band) => found.add(band.dataset[to]));
    }
    return found;
};

const light = (chart, id) => {
    const bands = [...chart.querySelectorAll('[data-from]')];
    const lit = new Set([...reach(bands, id, 'from', 'to'), ...reach(bands, id, 'to', 'from')]);
    chart.classList.add('is-lit');
    chart.querySelectorAll('[data-box]').forEach((box) => box.classList.toggle('lit', lit.has(box.dataset.box)));
    bands.forEach((band) => band.classList.toggle('lit', lit.has(band.dataset.from) && lit.has(band.dataset.to)));
};

const dim = (event, box) => box.closest('svg').classList.remove('is-lit');

export const watchMap = () => {
    ['mouseover', 'focusin'].forEach((kind) => on(kind, '[data-box]', (event, box) => light(box.closest('svg'), box.dataset.box)));
    ['mouseout', 'focusout'].forEach((kind) => on(kind, '[data-box]', dim));
};
