/**
 * Which requests of a sheet may leave, and which answers are shown. A sheet sends every change as it is
 * made, so several can be on their way at once; they carry their number, by which the server keeps an
 * older one from overwriting a newer one.
 */
export class SheetOrder {
    #page;

    #sent = 0;

    #shown = 0;

    /** Number of the request that has the whole sheet made anew; 0 when there is none. */
    #whole = 0;

    /** @param {string} page */
    constructor(page) {
        this.#page = page;
    }

    /**
     * The header of a request that leaves now, or null when it has to wait: while the whole sheet is made
     * anew, anything else would come from fields that are about to be replaced.
     *
     * @param {boolean} isWhole whether the answer replaces the whole sheet
     */
    leave(isWhole) {
        if (this.#whole !== 0) return null;
        this.#sent++;
        if (isWhole) this.#whole = this.#sent;

        return `${this.#page}:${this.#sent}`;
    }

    /** The number in such a header; 0 without one. */
    static number(header) {
        return Number((header ?? '').split(':')[1] ?? 0);
    }

    /**
     * Whether an answer is to be shown: not after a newer one was.
     *
     * @param {number} number
     */
    show(number) {
        const isNew = number >= this.#shown;
        this.#shown = Math.max(this.#shown, number);

        return isNew;
    }

    /** Whether this is the end of the request that has the whole sheet made anew. */
    isWhole(number) {
        return this.#whole !== 0 && number === this.#whole;
    }

    /** The whole sheet is there, or will not come. */
    settle() {
        this.#whole = 0;
    }
}
