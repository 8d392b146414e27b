import assert from 'node:assert/strict';
import { test } from 'node:test';

/** As much of a document as events.js needs: listeners by kind, and elements that know their ancestors. */
const listeners = [];
globalThis.document = { addEventListener: (type, handle, capture) => listeners.push({ type, handle, capture }) };
const { on } = await import('../../resources/js/events.js');

const element = (name, parent = null) => ({ name, closest(selector) { return this.name === selector ? this : parent?.closest(selector) ?? null; } });
const fire = (type, target, capture = false) => {
    const event = { target, cancelBubble: false, stopPropagation() { this.cancelBubble = true; } };
    listeners.filter((one) => one.type === type && one.capture === capture).forEach((one) => one.handle(event));
};

test('one listener hears for all who wait', () => {
    const heard = [];
    on('click', 'button', (event, found) => heard.push(`button ${found.name}`));
    on('click', 'form', (event, found) => heard.push(`form ${found.name}`));
    on('click', null, (event, found) => heard.push(`any ${found.name}`));
    assert.equal(listeners.filter((one) => one.type === 'click').length, 1);
    fire('click', element('span', element('button', element('form'))));
    assert.deepEqual(heard, ['button button', 'form form', 'any span']);
    heard.length = 0;
    fire('click', element('p'));
    assert.deepEqual(heard, ['any p']);
});

test('who stops an event stops it for those after', () => {
    const heard = [];
    on('change', 'input', (event) => { heard.push('first'); event.stopPropagation(); }, { capture: true });
    on('change', 'input', () => heard.push('second'), { capture: true });
    on('change', 'input', () => heard.push('below'));
    fire('change', element('input'), true);
    assert.deepEqual(heard, ['first']);
    assert.equal(listeners.filter((one) => one.type === 'change').length, 2, 'one for each phase');
});

test('an event of the document itself has nothing to be closest to', () => {
    const heard = [];
    on('scroll', 'div', () => heard.push('div'));
    on('scroll', null, () => heard.push('any'));
    fire('scroll', {});
    assert.deepEqual(heard, ['any']);
});
