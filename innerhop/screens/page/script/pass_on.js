// A section's address as what people paste it into wants it.

// CommonMark 0.31, 2.4: a backslash before any of these makes it itself; the last two are GFM's.
const SIGNS = /[\\`*_[\]<>&~|]/g;
const IN_ADDRESS = /[\\()&<>]/g;

/** A link in Markdown. */
export function markdown(words, address) {
  return `[${oneLine(words).replace(SIGNS, "\\$&")}](${address.replace(IN_ADDRESS, "\\$&")})`;
}

const ENTITIES = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" };
const escaped = (text) => text.replace(/[&<>"]/g, (sign) => ENTITIES[sign]);

/** A link in HTML. */
export function html(words, address) {
  return `<a href="${escaped(address)}">${escaped(oneLine(words))}</a>`;
}

const oneLine = (words) => words.trim().replace(/\s+/g, " ");

const NO_PICTURE = "data:image/gif;base64,R0lGODlhAQABAAAAACw=";

// The desk's part of it.
export function passOn() {
  return {
    qrOf: "", // the ID whose code is shown
    get isQrShown() {
      return Boolean(this.markHere) && this.qrOf === this.markHere.value;
    },
    toggleQr() {
      this.qrOf = this.isQrShown ? "" : this.markHere.value;
    },
    qr(kind) {
      return this.markHere ? `${this.urls.qr}${kind}?id=${encodeURIComponent(this.markHere.value)}` : "";
    },
    get qrPicture() {
      return this.isQrShown ? `${this.qr("svg")}&show` : NO_PICTURE;
    },
  };
}
