import { on } from './events.js';
import { notice } from './notices.js';

/** A data URL with the name of its file, and with a type where the browser knows none. */
export const named = (url, name) => url.replace(/^data:([^;,]*)/, (_, type) => `data:${type || 'application/octet-stream'};name=${encodeURIComponent(name)}`);

const take = (event, input) => {
    const file = input.files[0];
    if (!file) return;
    event.stopPropagation();
    if (file.size > Number(input.dataset.most)) {
        notice(`${file.name} is larger than what is kept to try with (256 KB). Give it on the command line with --in NAME=@FILE.`);
        return;
    }
    const reader = new FileReader();
    reader.addEventListener('load', () => {
        const value = document.getElementById(input.dataset.fileFor);
        value.value = named(reader.result, file.name);
        document.querySelector(`label[for="${input.id}"]`).textContent = `${file.name}, ${file.size} B`;
        value.dispatchEvent(new Event('change', { bubbles: true }));
    });
    reader.readAsDataURL(file);
};

// A file as the value of an input travels as a data URL with its name.
export const watchFiles = () => on('change', '[data-file-for]', take, { capture: true });
