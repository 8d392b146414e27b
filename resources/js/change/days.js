// Days later or earlier, in a text that begins with a date like 2031-03-02; what stands behind it stays.
const written = (date) => date.toISOString().slice(0, 10);

export const otherDay = (text, days, months, today) => {
    const found = /^\s*(\d{4})-(\d\d)-(\d\d)(.*)$/s.exec(text);
    if (text.trim() === '') return written(today);
    if (!found) return null;
    const [year, month, day] = found.slice(1, 4).map(Number);
    const date = new Date(Date.UTC(year, month - 1, day));
    date.setUTCFullYear(year);
    if (date.getUTCMonth() !== month - 1 || date.getUTCDate() !== day) return null;
    // A month later than the 31st is the last day of a month that has fewer.
    const last = new Date(Date.UTC(2000, month + months, 0));
    last.setUTCFullYear(year + Math.floor((month - 1 + months) / 12), (((month - 1 + months) % 12) + 12) % 12 + 1, 0);
    const other = new Date(last);
    other.setUTCDate(Math.min(day, last.getUTCDate()) + days);
    return other.getUTCFullYear() < 1 || other.getUTCFullYear() > 9999 ? null : written(other) + found[4];
};
