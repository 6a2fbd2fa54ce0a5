// What make day needs besides pages: entries that wait for the connection,
// timers that ring in a hidden window, and a screen that stays awake.

import { asOf, canTurn, freshKey, keepRun } from "./offline.js";
import { onBeat, showTimers } from "./timers.js";

const run = document.getElementById("run")?.dataset.run;

// --- The outbox. A form marked data-outbox is sent in the background. What
// cannot be sent is kept here under its key, shown as not yet saved, and sent
// again until it is answered; the key makes sure that it is recorded once.

const box = {
  get list() {
    return JSON.parse(localStorage.getItem("outbox") ?? "[]");
  },
  set list(entries) {
    localStorage.setItem("outbox", JSON.stringify(entries));
  },
  add(entry) {
    this.list = [...this.list.filter((e) => e.key !== entry.key), entry];
  },
  drop(key) {
    this.list = this.list.filter((e) => e.key !== key);
  },
};

// Whether an entry is on record is said by its key, in a header: the page of a
// redirect, or of somebody else's server, says nothing.
const send = async (entry) => {
  trouble = "";
  const answer = await fetch(entry.url, {
    method: "POST",
    body: new URLSearchParams(entry.body),
    headers: { "Ashshelf-Outbox": "1", "Ashshelf-Held": String(Math.max(0, Date.now() - entry.pressed)) },
    redirect: "manual",
    signal: AbortSignal.timeout(15000),
  });
  nobody = answer.status === 401;
  trouble = answer.headers.get("Ashshelf-Trouble") ?? "";
  return answer;
};

const refused = (answer) => answer.status >= 400 && answer.status < 500 && !nobody;

const recorded = (answer, entry) => answer.headers.get("Ashshelf-Recorded") === entry.key;

const labelOf = (form, body) => {
  const shown = form.querySelector("#figure")?.textContent;
  const what = form.dataset.outbox || document.getElementById("now-what")?.textContent || "an entry";
  const typed = body.get("grams") || (body.get("reading") ? shown : "");
  return [what, typed].filter(Boolean).join(", ");
};

// Entries of a run whose earlier entry was refused wait for it: they were made on top
// of something that is not on record.
const stuckRuns = () => new Set(box.list.filter((e) => e.refused).map((e) => e.run));
let nobody = false; // the server asks who is working
let trouble = ""; // what the disk said when it took nothing

const stateOf = (entry, stuck) => {
  if (entry.refused) return ["Not taken: ", `. ${entry.refused} `];
  if (nobody) return ["Not yet saved: ", ". It waits until somebody says who is at the bench. "];
  if (stuck.has(entry.run)) return ["Waiting: ", ". It goes when what stands above it is seen to. "];
  if (trouble) return ["Not yet saved: ", `. ${trouble} It is kept here until then. `];
  return ["Not yet saved: ", ". It is kept here and goes when the connection is back. "];
};

const showOutbox = () => {
  const place = document.getElementById("outbox");
  if (!place) return;
  const entries = box.list;
  const stuck = stuckRuns();
  place.hidden = entries.length === 0;
  place.replaceChildren(
    ...entries.map((entry) => {
      const line = document.createElement("p");
      const strong = document.createElement("b");
      const [state, more] = stateOf(entry, stuck);
      strong.textContent = state;
      line.append(strong, entry.label, more);
      if (nobody && !entry.refused) {
        const who = document.createElement("a");
        who.href = `/who?next=${encodeURIComponent(location.pathname + location.search)}`;
        who.textContent = "Choose who works.";
        line.append(who);
      }
      if (entry.refused) {
        const drop = document.createElement("button");
        drop.type = "button";
        drop.className = "btn btn-small";
        drop.textContent = "I have seen it";
        drop.addEventListener("click", () => {
          box.drop(entry.key);
          showOutbox();
          emptyOutbox();
        });
        line.append(drop);
      }
      return line;
    }),
  );
};

const pageOf = async (answer) => new DOMParser().parseFromString(await answer.text(), "text/html");

// What a refused entry is told, taken from the page that came back.
const refusal = async (answer) => {
  const page = await pageOf(answer);
  const said = [...page.querySelectorAll("#notice .note, .err, .note-block")].map((e) => e.textContent.trim()).filter(Boolean);
  return said[0] ?? "Look at the step and write it down again.";
};

let emptying = false;
const emptyOutbox = async () => {
  if (emptying) return;
  emptying = true;
  let sent = false;
  for (const entry of box.list) {
    if (stuckRuns().has(entry.run)) continue;
    try {
      const answer = await send(entry);
      if (recorded(answer, entry)) {
        box.drop(entry.key);
        sent = true;
      } else if (refused(answer)) box.add({ ...entry, refused: await refusal(answer) });
      else break; // not answered by its key: it stays
    } catch {
      break;
    }
  }
  emptying = false;
  showOutbox();
  if (sent && box.list.every((e) => e.refused)) location.reload();
};

let busy = false;

// Nothing was recorded: the page that came back says why, and takes the place of this
// one. The entry is not sent again to see it.
const showRefused = async (answer) => {
  const main = (await pageOf(answer)).getElementById("main");
  if (!main) return location.reload();
  document.getElementById("main").replaceWith(document.adoptNode(main));
  window.htmx?.process(main);
  document.dispatchEvent(new CustomEvent("ashshelf:refused"));
  watchLive();
  showOutbox();
  showTimers();
  scrollTo(0, 0);
  busy = false;
};

document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (!form.matches("form[data-outbox]") || event.defaultPrevented) return;
  event.preventDefault();
  if (busy) return; // a second press of the same button
  busy = true;
  const body = new FormData(form, event.submitter);
  const entry = { key: body.get("key"), url: form.action, body: [...body.entries()], label: labelOf(form, body), run, pressed: Date.now() };
  const keep = (alone) => {
    box.add(entry);
    busy = false;
    showOutbox();
    for (const button of form.querySelectorAll("button")) button.disabled = true; // it is on its way already
    // What is sent next from this page is another entry, with a key of its own.
    const fresh = freshKey(entry.key);
    for (const input of document.querySelectorAll("input[name=key]")) input.value = fresh;
    if (alone && canTurn() && nextStep()) location.assign(nextStep()); // the work goes on without network
  };
  if (box.list.some((e) => e.run === run)) return keep(Boolean(asOf)); // in its turn
  try {
    const answer = await send(entry);
    if (recorded(answer, entry)) location.assign(answer.headers.get("Ashshelf-Next"));
    else if (refused(answer)) await showRefused(answer);
    else keep(false);
  } catch {
    keep(true);
  }
});
showOutbox();
if (box.list.length) emptyOutbox();
setInterval(() => box.list.some((e) => !stuckRuns().has(e.run)) && emptyOutbox(), 3000);
addEventListener("online", emptyOutbox);

// --- The whole run is kept ahead. Without network the step after the one at hand is the next in the list:
// what it comes to is not known here, and nothing is judged.

const steps = () => [...document.querySelectorAll("#run .stage a[href*='step=']")].map((a) => a.getAttribute("href"));
const nextStep = () => {
  const all = steps();
  const here = document.querySelector("#run .stage a[aria-current=step]")?.getAttribute("href");
  return all[all.indexOf(here) + 1];
};
if (run && !asOf && !document.body.classList.contains("is-beside")) keepRun(run, [location.pathname, ...steps()]);

// --- What a device shows is live or it is not shown as such. When nothing new came
// for two seconds the figure is greyed and its reading is not sent.

const staleAfter = 2000;
let live, heard;
const watchLive = () => {
  live = document.getElementById("live");
  heard = performance.now();
  if (live) new MutationObserver((changes) => changes.some((c) => c.type === "childList") && (heard = performance.now())).observe(live, { childList: true, subtree: true });
};
watchLive();
const age = () => {
  if (!live) return;
  const stale = performance.now() - heard > staleAfter;
  live.classList.toggle("is-stale", stale);
  const word = live.querySelector(".stale-word");
  if (word) word.hidden = !stale;
  for (const input of live.querySelectorAll("input[name=reading]")) input.disabled = stale;
};

onBeat(age);

// --- A figure that is typed while nothing has the cursor belongs into the weight.

document.addEventListener("keydown", (event) => {
  if (!/^[0-9]$/.test(event.key) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.target.closest?.("input, select, textarea, dialog, [popover]")) return;
  document.getElementById("f-grams")?.focus(); // which then takes the key
});

// --- The screen stays awake while a run is open.

const awake = document.getElementById("awake");
const stayAwake = async () => {
  if (!run || document.hidden) return;
  try {
    await navigator.wakeLock.request("screen");
    if (awake) awake.textContent = "";
  } catch {
    if (awake) awake.textContent = "This browser lets the screen sleep: set the device to stay on.";
  }
};
document.addEventListener("visibilitychange", stayAwake);
stayAwake();
