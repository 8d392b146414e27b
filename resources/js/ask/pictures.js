// A chart as a file: the SVG as it is, or drawn at twice its size.
import { on } from '../events.js';

const save = (address, name) => Object.assign(document.createElement('a'), { href: address, download: name }).click();

export const watchPictures = () => on('click', '[data-picture]', (event, button) => {
    const svg = document.querySelector('#chart svg');
    const text = new XMLSerializer().serializeToString(svg);
    const address = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
    if (button.dataset.picture === 'svg') return save(address, 'chart.svg');
    const image = new Image();
    image.addEventListener('load', () => {
        const [width, height] = [svg.viewBox.baseVal.width * 2, svg.viewBox.baseVal.height * 2];
        const canvas = Object.assign(document.createElement('canvas'), { width, height });
        const pen = canvas.getContext('2d');
        pen.fillStyle = '#fff';
        pen.fillRect(0, 0, width, height);
        pen.drawImage(image, 0, 0, width, height);
        save(canvas.toDataURL('image/png'), 'chart.png');
    });
    image.src = address;
    return null;
});
