// What is searched for: every word has to be there, in any order and case.
export const wordsOf = (text) => text.toLowerCase().split(/\s+/).filter((word) => word !== '');

/** @param {string} text in lower case */
export const holdsAll = (text, words) => words.every((word) => text.includes(word));
