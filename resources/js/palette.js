// Find: a list over every screen, filled as one types and used by keyboard.
const wait = 120;

/** The place of the option that follows, around the ends. */
export const step = (place, count, by) => (count === 0 ? -1 : (place + by + count) % count);

const choose = (list, text, place) => {
    const options = [...list.querySelectorAll('[role=option]')];
    options.forEach((one, at) => one.setAttribute('aria-selected', String(at === place)));
    const chosen = options[place];
    if (chosen) {
        text.setAttribute('aria-activedescendant', chosen.id);
        chosen.scrollIntoView({ block: 'nearest' });
    } else {
        text.removeAttribute('aria-activedescendant');
    }
};

const chosenIn = (list) => [...list.querySelectorAll('[role=option]')].findIndex((one) => one.getAttribute('aria-selected') === 'true');

export const palette = (dialog, { fetch, location }) => {
    const text = dialog.querySelector('#palette-text');
    const list = dialog.querySelector('#palette-list');
    let timer = 0;
    let asked = 0;
    let loaded = Promise.resolve();
    const ask = async () => {
        const mine = ++asked;
        const query = new URLSearchParams({ as: 'list', q: text.value, here: location.pathname });
        const answer = await fetch(`${dialog.dataset.url}?${query}`, { headers: { 'X-Requested-With': 'XMLHttpRequest' } });
        // An older answer does not take the place of a newer one.
        if (mine !== asked || !answer.ok) return;
        list.innerHTML = await answer.text();
        choose(list, text, list.querySelector('[role=option]') ? 0 : -1);
    };
    const load = () => {
        clearTimeout(timer);
        timer = 0;
        loaded = ask();

        return loaded;
    };
    // What stands in the list is what was typed last, also for one who types faster than it is filled.
    const settled = () => (timer === 0 ? loaded : load());
    text.addEventListener('input', () => {
        clearTimeout(timer);
        timer = setTimeout(load, wait);
    });
    dialog.addEventListener('keydown', (event) => {
        const count = list.querySelectorAll('[role=option]').length;
        const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
        if (by !== undefined) {
            event.preventDefault();
            choose(list, text, step(chosenIn(list), count, by));
        }
        if (event.key === 'Enter') {
            event.preventDefault();
            settled().then(() => list.querySelectorAll('[role=option]')[chosenIn(list)]?.click());
        }
    });

    return () => {
        if (!dialog.open) dialog.showModal();
        text.select();
        return load();
    };
};
