// What is pressed, opened or chosen in the moment between a swap and htmx's listening to what is new is heard.
import htmx from 'htmx.org';
import { on } from './events.js';

const ASKS = '[hx-get], [hx-post], [hx-put], [hx-patch], [hx-delete]';

export const watchEarly = () => {
    const heard = new WeakSet();
    on('htmx:afterProcessNode', null, (event) => heard.add(event.target));
    for (const type of ['click', 'change', 'toggle', 'submit', 'input']) {
        on(type, ASKS, (event, element) => {
            for (let one = element; one; one = one.parentElement?.closest(ASKS)) if (!heard.has(one)) htmx.process(one);
        }, { capture: true });
    }
};
