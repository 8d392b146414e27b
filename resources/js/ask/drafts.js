// What is typed is kept as a draft, each tab its own as soon as two of them write.
import { on } from '../events.js';
import { token } from '../session.js';

const QUIET = 700;

/**
 * @param {HTMLFormElement} form
 * @param {() => string} text what stands in the editor
 * @returns {() => void} to be called after every change
 */
export const keepsDrafts = (form, text) => {
    const state = document.getElementById('draft-state');
    const field = document.getElementById('draft');
    let revision = Number(form.dataset.revision);
    let draft = form.dataset.draft;
    let written = text();
    let clock;
    let sending = null;
    let left = false;

    const settings = () => [...new FormData(form)].filter(([name]) => /^[kdcm]\[/.test(name));
    const body = () => new URLSearchParams([['query', form.dataset.query], ['draft', draft], ['revision', revision], ['based_on', document.getElementById('seen').value || '0'], ['sql', text()], ...settings()]);

    const send = async () => {
        clearTimeout(clock);
        if (sending) await sending;
        if (text() === written || left) return;
        const now = text();
        sending = fetch(form.dataset.draftUrl, { method: 'POST', headers: { ...token(), Accept: 'application/json' }, body: body(), keepalive: now.length < 60000 });
        try {
            const answer = await sending;
            if (!answer.ok) throw new Error(String(answer.status));
            ({ draft, revision } = await answer.json());
            written = now;
            field.value = draft;
            state.textContent = 'Kept as a draft.';
            const address = new URL(location.href);
            ['table', 'again'].forEach((name) => address.searchParams.delete(name));
            address.searchParams.set('draft', draft);
            history.replaceState(history.state, '', address);
        } catch {
            state.textContent = 'Not kept: the server cannot be reached, or your session has ended. What you typed is still here.';
        } finally {
            sending = null;
        }
    };

    addEventListener('pagehide', () => { send(); });
    on('visibilitychange', null, () => { if (document.hidden) send(); });
    // What is being saved needs no draft any more.
    form.addEventListener('submit', () => { clearTimeout(clock); left = true; });

    return () => {
        state.textContent = '';
        clearTimeout(clock);
        clock = setTimeout(send, QUIET);
    };
};
