// The till of a stall, on a telephone in sun and rain. A tap is a bar; what was paid is kept on this device first and sent
// when there is a network, each entry under its own key, so that it is on record once however often it is sent. What is left
// in the box is counted here, and nothing is ever refused: what cannot have been is asked about at home.

import { freshKey } from "./offline.js";

const stall = document.getElementById("stall");
const of = stall.dataset.market;
const store = `till-${of}`;
const digits = Number(stall.dataset.digits);
const dealBars = Number(stall.dataset.deal);
const dealAmount = Number(stall.dataset.dealAmount);
const money = (minor) => (minor / 10 ** digits).toFixed(digits);
const by = (id) => document.getElementById(id);
const clock = (at) => new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });

// --- What was rung up: what the page knew when it came, and what this device has added since.

const known = JSON.parse(stall.dataset.till);
const mine = () => JSON.parse(localStorage.getItem(store) ?? "[]");
const keep = (list) => localStorage.setItem(store, JSON.stringify(list));
const all = () => {
  const keys = new Set(known.map((e) => e.key));
  return [...known, ...mine().filter((e) => !keys.has(e.key))];
};
const sales = () => {
  const list = all();
  const undone = new Set(list.filter((e) => e.what === "undone").map((e) => e.of));
  return list.filter((e) => e.what === "sold" && !undone.has(e.key)).sort((a, b) => a.at - b.at);
};

const ring = (entry) => {
  const pageKey = document.querySelector("#stall input[name=key]")?.value ?? "";
  keep([...mine(), { key: freshKey(pageKey), at: Date.now(), ...entry }]);
  show();
  send();
};

// --- What is being bought.

let basket = []; // { product, name, price }, price null where it is part of a deal
let deals = 0;
const full = () => basket.filter((b) => !b.deal);
const total = () => full().reduce((sum, b) => sum + b.price, 0) + deals * dealAmount;
const counted = (list) => {
  const out = new Map();
  for (const b of list) out.set(b.name, (out.get(b.name) ?? 0) + 1);
  return [...out].map(([name, n]) => (n > 1 ? `${n} × ${name}` : name)).join(", ");
};
const clear = () => {
  basket = [];
  deals = 0;
};

// --- What the page shows.

const tiles = [...document.querySelectorAll(".stall-tile")];
const showTile = (tile, sold) => {
  const { product } = tile.dataset;
  const packed = Number(tile.dataset.packed);
  let n = 0;
  let gone = 0;
  for (const s of sold) {
    n += s.lines[product] ?? 0;
    if (!gone && n >= packed && s.lines[product]) gone = s.at;
  }
  const held = basket.filter((b) => b.product === product).length;
  const left = packed - n - held;
  const asked = all().filter((e) => e.what === "asked" && e.of === product).length;
  const words = tile.querySelector(".stall-left");
  tile.classList.toggle("is-last", left === 1);
  tile.classList.toggle("is-gone", left <= 0);
  if (left > 1) words.textContent = `${left} left`;
  else if (left === 1) words.textContent = "the last one";
  else if (left === 0 && held) words.textContent = "none left";
  else if (left < 0) words.textContent = `${-left} more than were packed`;
  else words.textContent = `sold out at ${clock(gone)}${asked ? `, ${asked} asked` : ""}`;
};

const show = () => {
  const sold = sales();
  for (const tile of tiles) showTile(tile, sold);
  const taken = (pay) => sold.filter((s) => s.pay === pay).reduce((sum, s) => sum + s.amount, 0);
  const bars = sold.reduce((sum, s) => sum + Object.values(s.lines).reduce((a, b) => a + b, 0), 0);
  by("stall-taken").textContent = `${bars} sold · cash ${money(taken("cash"))} · card ${money(taken("card"))}`;
  const parts = [counted(full())];
  if (deals) parts.push(`${deals * dealBars} for ${money(deals * dealAmount)} (${counted(basket.filter((b) => b.deal))})`);
  by("stall-lines").textContent = basket.length ? `${parts.filter(Boolean).join(" and ")}: ${money(total())} ${stall.dataset.currency}` : "";
  for (const button of document.querySelectorAll("[data-pay], #stall-less")) button.disabled = basket.length === 0;
  const deal = by("stall-deal");
  if (deal) deal.disabled = full().length < dealBars;
  const last = [...mine()].reverse().find((e) => e.what === "sold" && sold.some((s) => s.key === e.key));
  by("stall-undo").hidden = !last;
  const name = (oid) => tiles.find((t) => t.dataset.product === oid)?.dataset.name ?? "a bar";
  by("stall-last").textContent = last
    ? `${clock(last.at)}: ${Object.entries(last.lines)
        .map(([oid, n]) => (n > 1 ? `${n} × ${name(oid)}` : name(oid)))
        .join(", ")}, ${money(last.amount)} ${last.pay}`
    : "";
  by("stall-undo").dataset.key = last?.key ?? "";
  showBox();
};

// --- What waits to come home.

let nobody = false;
const showBox = () => {
  const box = by("stall-box");
  const waiting = mine().filter((e) => !e.home);
  const refused = waiting.filter((e) => e.refused);
  box.hidden = waiting.length === 0;
  box.replaceChildren();
  if (waiting.length === 0) return;
  const words = document.createElement("b");
  words.textContent = `${waiting.length} not yet at home. `;
  box.append(words, refused.length ? `Not taken: ${refused[0].refused} ` : "They are kept on this device and go by themselves when there is a network. ");
  if (nobody) {
    const who = document.createElement("a");
    who.href = `/who?next=${encodeURIComponent(location.pathname)}`;
    who.textContent = "Choose who works.";
    box.append(who);
  }
};

const bodyOf = (e) => {
  const body = new URLSearchParams({ key: e.key, what: e.what });
  if (e.what === "sold") {
    body.set("pay", e.pay);
    body.set("amount", String(e.amount));
    for (const [oid, n] of Object.entries(e.lines)) body.append("line", `${oid}:${n}`);
  } else body.set("of", e.of);
  return body;
};

let sending = false;
const send = async () => {
  if (sending) return;
  sending = true;
  for (const entry of mine().filter((e) => !e.home && !e.refused)) {
    try {
      const answer = await fetch(stall.dataset.action, {
        method: "POST",
        body: bodyOf(entry),
        headers: { "Ashshelf-Outbox": "1", "Ashshelf-Held": String(Math.max(0, Date.now() - entry.at)) },
        redirect: "manual",
        signal: AbortSignal.timeout(15000),
      });
      nobody = answer.status === 401;
      if (answer.headers.get("Ashshelf-Recorded") === entry.key) keep(mine().map((e) => (e.key === entry.key ? { ...e, home: true } : e)));
      else if (answer.status >= 400 && answer.status < 500 && !nobody) {
        const page = new DOMParser().parseFromString(await answer.text(), "text/html");
        const said = page.querySelector("#notice .note, .err, .note-block")?.textContent.trim();
        keep(mine().map((e) => (e.key === entry.key ? { ...e, refused: said || "look at it at home." } : e)));
      } else break; // not answered by its key: it stays
    } catch {
      break;
    }
  }
  sending = false;
  showBox();
};

// --- The hands.

stall.addEventListener("click", (event) => {
  const tile = event.target.closest(".stall-tile");
  if (tile) {
    const { product, name } = tile.dataset;
    if (tile.classList.contains("is-gone") && basket.every((b) => b.product !== product)) {
      // Sold out: somebody asks for it. A second tap says that one was there after all.
      if (tile.dataset.askedAt && Date.now() - Number(tile.dataset.askedAt) < 1500) basket.push({ product, name, price: Number(tile.dataset.price) });
      else ring({ what: "asked", of: product });
      tile.dataset.askedAt = String(Date.now());
      return show();
    }
    basket.push({ product, name, price: Number(tile.dataset.price) });
    return show();
  }
  const button = event.target.closest("button");
  if (!button) return;
  if (button.dataset.pay && basket.length) {
    const lines = {};
    for (const b of basket) lines[b.product] = (lines[b.product] ?? 0) + 1;
    const amount = total();
    clear();
    ring({ what: "sold", pay: button.dataset.pay, amount, lines });
  } else if (button.id === "stall-less") {
    const gone = basket.pop();
    if (gone?.deal) {
      deals -= 1;
      for (const b of basket) if (b.deal === gone.deal) b.deal = 0;
    }
    show();
  } else if (button.id === "stall-deal" && full().length >= dealBars) {
    deals += 1;
    for (const b of full().slice(-dealBars)) b.deal = deals;
    show();
  } else if (button.id === "stall-undo" && button.dataset.key) ring({ what: "undone", of: button.dataset.key });
});

show();
send();
setInterval(() => mine().some((e) => !e.home && !e.refused) && send(), 4000);
addEventListener("online", send);

// The screen stays awake while the stall is open, where the browser allows it.
const wake = () => document.visibilityState === "visible" && navigator.wakeLock?.request("screen").catch(() => {});
document.addEventListener("visibilitychange", wake);
wake();
