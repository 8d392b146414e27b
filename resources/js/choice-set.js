/**
 * What is chosen from a list that may stand on several pages: a box on the page shows it, and what is on
 * another page keeps it.
 */
export class ChoiceSet {
    #chosen = new Set();

    /** @param {Iterable<string>} values */
    add(values) {
        for (const value of values) this.#chosen.add(value);
    }

    /** @param {Iterable<string>} values */
    remove(values) {
        for (const value of values) this.#chosen.delete(value);
    }

    clear() {
        this.#chosen.clear();
    }

    /** @param {string} value */
    has(value) {
        return this.#chosen.has(value);
    }

    get size() {
        return this.#chosen.size;
    }

    /** One in each line, in the order in which they were chosen. */
    text() {
        return [...this.#chosen].join('\n');
    }
}
