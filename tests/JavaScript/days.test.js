import assert from 'node:assert/strict';
import test from 'node:test';
import { otherDay } from '../../resources/js/change/days.js';

const today = new Date(Date.UTC(2031, 2, 2, 23, 59));
const cases = [
    ['2031-03-02', 1, 0, '2031-03-03'],
    ['2031-03-01', -1, 0, '2031-02-28'],
    ['2032-03-01', -1, 0, '2032-02-29'],
    ['2031-12-31', 1, 0, '2032-01-01'],
    ['2031-01-31', 0, 1, '2031-02-28'],
    ['2032-01-31', 0, 1, '2032-02-29'],
    ['2031-12-15', 0, 1, '2032-01-15'],
    ['2031-01-15', 0, -1, '2030-12-15'],
    ['2031-03-31', 0, -1, '2031-02-28'],
    ['2031-03-02 14:30', 1, 0, '2031-03-03 14:30'],
    ['2031-03-02T14:30:00+02:00', 0, 1, '2031-04-02T14:30:00+02:00'],
    ['0099-12-31', 1, 0, '0100-01-01'],
    ['', 1, 0, '2031-03-02'],
    ['soon', 1, 0, null],
    ['2031-02-30', 1, 0, null],
    ['9999-12-31', 1, 0, null],
];
for (const [text, days, months, other] of cases) {
    test(`${text || 'nothing'}, ${days} days and ${months} months`, () => assert.equal(otherDay(text, days, months, today), other));
}
