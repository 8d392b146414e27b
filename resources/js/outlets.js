// The documentation of a feed asks the feed itself, as whoever looks or with a key.
export const watchFeedTries = () => {
    const form = document.getElementById('try-feed');
    if (!form) return;
    const told = document.getElementById('tried');
    form.addEventListener('submit', async (event) => {
        event.preventDefault();
        const asked = [...new FormData(form)].filter(([, value]) => value !== '');
        const address = asked.length ? `${form.dataset.address}?${new URLSearchParams(asked)}` : form.dataset.address;
        const key = form.querySelector('[data-key]').value.trim();
        const begun = performance.now();
        const line = document.createElement('p');
        const body = document.createElement('pre');
        body.className = 'ev tall';
        body.tabIndex = 0;
        try {
            const answer = await fetch(address, { headers: key === '' ? {} : { 'X-Api-Key': key } });
            const text = await answer.text();
            line.textContent = `GET ${address} → ${answer.status}, ${Math.round(performance.now() - begun)} ms`;
            body.textContent = text.replaceAll('},{', '},\n{').slice(0, 100000);
        } catch {
            line.textContent = `GET ${address} was not answered.`;
        }
        line.className = 's break-all';
        told.replaceChildren(line, body);
    });
};
