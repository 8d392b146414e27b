import { on } from './events.js';

/**
 * The header that a request has to carry. The cookie is renewed when somebody signs in again in another
 * tab, which the page cannot be.
 *
 * @param {string} cookies as document.cookie has them
 * @param {string} ofPage the token that the page came with
 */
export const tokenHeader = (cookies, ofPage) => {
    const cookie = cookies.split('; ').find((one) => one.startsWith('XSRF-TOKEN='));
    return cookie ? { 'X-XSRF-TOKEN': decodeURIComponent(cookie.slice(11)) } : { 'X-CSRF-TOKEN': ofPage };
};

export const token = () => tokenHeader(document.cookie, document.querySelector('meta[name=csrf-token]').content);

export const watchRequests = () => on('htmx:configRequest', null, (event) => Object.assign(event.detail.headers, token()));
