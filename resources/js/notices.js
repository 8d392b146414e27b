import { on } from './events.js';

export const notice = (text) => {
    const place = document.getElementById('notice');
    place.textContent = text;
    place.hidden = text === '';
};

/** What is said of an answer that is no success. */
export const failure = (status) => (status === 419 || status === 401
    ? 'Your session has ended. Sign in again in another tab, then repeat this; what you typed is still here.'
    : `That did not work: the server answered ${status}. What you typed is still here.`);

// A request that failed says so, and leaves what was typed where it is.
export const watchFailures = () => {
    on('htmx:responseError', null, (event) => notice(failure(event.detail.xhr.status)));
    on('htmx:sendError', null, () => notice('The server cannot be reached. What you typed is still here.'));
    on('htmx:beforeRequest', null, () => notice(''));
};
