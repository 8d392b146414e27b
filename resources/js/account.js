import qrcode from 'qrcode-generator';

// The key of a second factor as a picture. It is drawn here, so that it is sent nowhere.
document.querySelectorAll('[data-qr]').forEach((place) => {
    const code = qrcode(0, 'M');
    code.addData(place.dataset.qr);
    code.make();
    place.innerHTML = code.createSvgTag({ scalable: true, margin: 0 });
});
