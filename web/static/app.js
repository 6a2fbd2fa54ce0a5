// The little script that pages need besides htmx.
//
// The liquid of a recipe can be said in several ways, and the page shows them all: marked
// data-way beside the field. Who chooses another way finds its figure in the field.
// Inputs marked data-picks choose the radio button with that id as soon as something is
// typed in them.

import "./offline.js";
import "./timers.js";
import { showKept } from "./kept.js";
import { backToPlace } from "./place.js";

document.addEventListener(
  "input",
  ({ target }) => {
    const radio = target.dataset?.picks && document.getElementById(target.dataset.picks);
    if (radio) radio.checked = true;
    if (target.id !== "f-water-basis") return;
    const same = document.querySelector(`#readings [data-way="${target.value}"]`);
    const value = document.getElementById("f-water-value");
    if (same && value) value.value = same.textContent;
  },
  { capture: true },
);

// A new shop takes its time zone from the browser, which is where she is.
const zone = document.querySelector(".welcome #f-zone");
const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
if (zone && here && !document.querySelector(".welcome .err:not(:empty)")) {
  zone.value = here;
  const said = document.querySelector('[data-guessed="zone"]');
  if (said) said.textContent = here;
}

// A window keeps its name when its page is loaded again, so that what is typed in it
// is not taken for somebody else's.
const named = (root) => {
  for (const input of root.querySelectorAll('input[name="tab"]')) {
    if (!sessionStorage.getItem("tab")) sessionStorage.setItem("tab", input.value);
    input.value = sessionStorage.getItem("tab");
  }
};
named(document);

// What an address or a link points at is folded out, where it is folded away.
const foldOut = (id) => {
  const at = document.getElementById(id);
  if (at?.matches("details.fold")) at.open = true;
};
foldOut(location.hash.slice(1));
window.addEventListener("hashchange", () => foldOut(location.hash.slice(1)));
document.addEventListener("click", (event) => {
  const to = event.target.closest?.('a[href^="#"]')?.getAttribute("href");
  if (to) foldOut(to.slice(1));
});

// What is wrong in a part that is folded away is folded out.
const unfold = () => {
  for (const err of document.querySelectorAll("main details:not([open]) .err:not(:empty)")) {
    for (let d = err.closest("details"); d; d = d.parentElement.closest("details")) d.open = true;
  }
};
document.addEventListener("htmx:after:swap", () => {
  named(document);
  unfold();
});

// What a page sends by itself while somebody types is not kept when the disk takes
// nothing; that is said on the page, and taken back when it does again.
document.addEventListener("htmx:after:request", (event) => {
  const notice = document.getElementById("notice");
  const said = event.detail.ctx?.response?.headers.get("Ashshelf-Trouble");
  const line = notice?.querySelector(".disk-trouble");
  if (!notice || Boolean(said) === Boolean(line)) return;
  if (!said) return line.remove();
  const p = document.createElement("p");
  p.className = "note note-block my-2 disk-trouble";
  p.textContent = `What you type is not kept at the moment. ${said}`;
  notice.append(p);
});

// An error that came back with the page gets the attention first.
const toWrong = () => document.querySelector(".field:has(.err:not(:empty)) :is(input, select, textarea)")?.focus();
document.addEventListener("ashshelf:refused", () => {
  named(document);
  toWrong();
});

// On make day two presses within a second are one, also when the first has brought
// another page under the finger, the pedal or the Enter key.
const once = 1000;
document.addEventListener(
  "click",
  (event) => {
    if (!event.target.closest?.("#run :is(.btn-hand, [data-key])")) return;
    const now = Date.now();
    if (now - Number(sessionStorage.getItem("pressed") ?? 0) < once) {
      event.preventDefault();
      event.stopImmediatePropagation();
      return;
    }
    sessionStorage.setItem("pressed", String(now));
  },
  { capture: true },
);

// A form that asks for a secret is sent once: a second press would carry a secret that the first
// one has just used up.
document.addEventListener(
  "submit",
  (event) => {
    const form = event.target.closest?.("form[data-once]");
    if (!form) return;
    const now = Date.now();
    if (now - Number(form.dataset.sent ?? 0) < once) {
      event.preventDefault();
      event.stopImmediatePropagation();
      return;
    }
    form.dataset.sent = String(now);
  },
  { capture: true },
);

// A button or link marked data-key is pressed by that key. While somebody is
// typing only the keys of a foot pedal do, which type nothing.
const pedal = ["PageDown", "PageUp"];
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
  const field = event.target.closest?.("input, select, textarea");
  const empty = field?.id === "f-grams" && field.value === ""; // no weight begins with a letter
  if (field && !empty && !pedal.includes(event.key)) return;
  if (localStorage.getItem("keys") === "off" && !pedal.includes(event.key)) return;
  const to = document.querySelector(`:is(button, a)[data-key="${CSS.escape(event.key)}"]`);
  if (!to) return;
  event.preventDefault();
  to.click();
});

// Somebody who speaks to her computer, or leans on it, can switch the keys off for this browser.
const keysOff = document.getElementById("keys-off");
if (keysOff) {
  keysOff.checked = localStorage.getItem("keys") === "off";
  keysOff.addEventListener("change", () => localStorage.setItem("keys", keysOff.checked ? "off" : "on"));
}

for (const button of document.querySelectorAll("button[data-print]")) button.addEventListener("click", () => window.print());

// Not before the page stands: a browser that goes to the part after # lets go of the cursor then.
window.addEventListener("load", () => setTimeout(backToPlace));
showKept();
