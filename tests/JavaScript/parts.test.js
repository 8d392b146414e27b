import assert from 'node:assert/strict';
import { test } from 'node:test';
import { named } from '../../resources/js/files.js';
import { failure } from '../../resources/js/notices.js';
import { step } from '../../resources/js/palette.js';
import { tokenHeader } from '../../resources/js/session.js';
import { target } from '../../resources/js/shape/drag.js';
import { clamp, curve } from '../../resources/js/shape/ribbons.js';
import { waited } from '../../resources/js/waiting.js';
import { reach } from '../../resources/js/watershed.js';
import { holdsAll, wordsOf } from '../../resources/js/words.js';

test('every word has to be there, in any order and case', () => {
    for (const [text, search, isThere] of [
        ['loans desk', 'LOANS', true], ['loans desk', ' desk  loans ', true], ['loans desk', 'loan desks', false], ['loans desk', '', true], ['', 'x', false],
    ]) assert.equal(holdsAll(text, wordsOf(search)), isThere, `${search} in ${text}`);
});

test('the token comes from the cookie, and from the page where there is none', () => {
    assert.deepEqual(tokenHeader('a=1; XSRF-TOKEN=ab%3D%3D; b=2', 'page'), { 'X-XSRF-TOKEN': 'ab==' });
    assert.deepEqual(tokenHeader('XSRF-TOKENS=no; a=XSRF-TOKEN=no', 'page'), { 'X-CSRF-TOKEN': 'page' });
    assert.deepEqual(tokenHeader('', 'page'), { 'X-CSRF-TOKEN': 'page' });
});

test('an ended session is told from another failure', () => {
    for (const status of [401, 419]) assert.match(failure(status), /^Your session has ended/);
    for (const status of [403, 404, 500, 503]) assert.match(failure(status), new RegExp(`the server answered ${status}`));
});

test('what is waited for says for how long, and how long it takes as a rule', () => {
    assert.equal(waited(0, undefined), 'waiting for the answer, 0.0 s');
    assert.equal(waited(1249, ''), 'waiting for the answer, 1.2 s');
    assert.equal(waited(61_000, '2.1 s'), 'waiting for the answer, 61.0 s; usually 2.1 s');
});

test('a file says its name in its data URL, and a type where the browser knows none', () => {
    assert.equal(named('data:image/png;base64,AA==', 'crate 7.png'), 'data:image/png;name=crate%207.png;base64,AA==');
    assert.equal(named('data:;base64,AA==', 'a;b,c'), 'data:application/octet-stream;name=a%3Bb%2Cc;base64,AA==');
    assert.equal(named('data:base64,AA==', '倉庫'), `data:base64;name=${encodeURIComponent('倉庫')},AA==`);
});

test('the palette goes around its ends', () => {
    assert.deepEqual([step(0, 3, 1), step(2, 3, 1), step(0, 3, -1), step(-1, 3, 1), step(0, 1, 1), step(0, 0, 1)], [1, 0, 2, 0, 0, -1]);
});

test('a course goes down as far as bands lead, and through no circle twice', () => {
    const band = (from, to) => ({ dataset: { from, to } });
    const bands = [band('s1', 't1'), band('s1', 't2'), band('t1', 'q1'), band('s2', 't3'), band('q1', 's1')];
    assert.deepEqual([...reach(bands, 's1', 'from', 'to')].sort(), ['q1', 's1', 't1', 't2']);
    assert.deepEqual([...reach(bands, 't3', 'to', 'from')].sort(), ['s2', 't3']);
    assert.deepEqual([...reach([], 'x', 'from', 'to')], ['x']);
});

test('a ribbon ends at the edge of what is scrolled away', () => {
    const pane = { top: 100, bottom: 300 };
    assert.deepEqual([clamp(50, pane), clamp(200, pane), clamp(999, pane)], [100, 200, 300]);
    assert.equal(curve(80, 10, 30), 'M0 10C40 10 40 30 80 30');
});

test('a column that is moved down leaves its old place first', () => {
    assert.deepEqual([target(1, 4), target(4, 1), target(2, 2), target(0, 1)], [3, 1, 2, 0]);
});
