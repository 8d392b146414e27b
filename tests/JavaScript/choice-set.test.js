import assert from 'node:assert/strict';
import { test } from 'node:test';
import { ChoiceSet } from '../../resources/js/choice-set.js';

test('what is chosen stays chosen when the page is another', () => {
    const chosen = new ChoiceSet();
    chosen.add(['loans', 'doors']);
    chosen.add(['loans', 'rooms']);
    chosen.remove(['doors', 'crates']);
    assert.deepEqual([chosen.size, chosen.has('loans'), chosen.has('doors'), chosen.text()], [2, true, false, 'loans\nrooms']);
});
