<svg width="22" height="22" viewBox="0 0 22 22" fill="none" stroke="#e3b04b" stroke-width="2" aria-hidden="true"><path d="M2 8c4 5 14 5 18 0"/><path
    d="M5 13c3 3.4 9 3.4 12 0" stroke="#8fc1bd"/><path d="M8.4 17.6c1.6 1.4 3.6 1.4 5.2 0" stroke="#8fc1bd"/></svg>
