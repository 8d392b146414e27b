import assert from 'node:assert/strict';
import test from 'node:test';
import { cells, isRequest } from '../../resources/js/docs.js';

test('the cells of a table come row by row, without blanks around', () => {
    const row = (...texts) => ({ cells: texts.map((innerText) => ({ innerText })) });
    assert.deepEqual(cells({ rows: [row(' Name ', 'Type'), row('due', '\ndate')] }), [['Name', 'Type'], ['due', 'date']]);
    assert.deepEqual(cells({ rows: [] }), []);
});

test('only what can be read as a request is offered as an endpoint', () => {
    for (const code of ['curl https://a.example', '  $ curl -X POST \\\n  https://a.example', '# first\ncurl https://a.example', 'https://a.example/loans?x=1']) assert.equal(isRequest(code), true, code);
    for (const code of ['{"curl": 1}', 'GET /loans', 'uncurl x', 'https://a.example is the address', '']) assert.equal(isRequest(code), false, code);
});
