import assert from 'node:assert/strict';
import { test } from 'node:test';
import { SheetOrder } from '../../resources/js/sheet-order.js';

test('requests are numbered one after the other', () => {
    const order = new SheetOrder('ab12');
    assert.deepEqual([order.leave(false), order.leave(false), order.leave(true)], ['ab12:1', 'ab12:2', 'ab12:3']);
    assert.deepEqual([SheetOrder.number('ab12:3'), SheetOrder.number(undefined), SheetOrder.number(null)], [3, 0, 0]);
});

test('nothing leaves while the whole sheet is made anew, and everything after it', () => {
    const order = new SheetOrder('p');
    assert.equal(order.leave(true), 'p:1');
    assert.equal(order.leave(false), null);
    assert.equal(order.leave(true), null);
    assert.deepEqual([order.isWhole(1), order.isWhole(2), order.isWhole(0)], [true, false, false]);
    order.settle();
    assert.equal(order.isWhole(1), false);
    assert.equal(order.leave(false), 'p:2');
});

test('an answer that a newer one overtook is not shown, in whatever order four of them come', () => {
    const permutations = (all) => (all.length < 2 ? [all] : all.flatMap((one, at) => permutations([...all.slice(0, at), ...all.slice(at + 1)]).map((rest) => [one, ...rest])));
    for (const came of permutations([1, 2, 3, 4])) {
        const order = new SheetOrder('p');
        const shown = came.filter((number) => order.show(number));
        assert.deepEqual(shown, came.filter((number, at) => came.slice(0, at).every((earlier) => earlier < number)), came.join());
        assert.equal(shown.at(-1), 4, came.join());
    }
});

test('an answer may be shown again in parts', () => {
    const order = new SheetOrder('p');
    assert.deepEqual([order.show(2), order.show(2), order.show(1)], [true, true, false]);
});
