// A step in the lanes of a day is dragged to another time: the page comes back with what has to move with it. A step that is
// only pressed is shown in the list.

import { along } from "./drag.js";

const lanes = document.getElementById("hours");
const list = document.getElementById("hours-list");
const svg = lanes?.querySelector("svg");
const grain = 5; // minutes

const clock = (minute) =>
  `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;

const row = (key) => [...list.children].find((li) => li.dataset.step === key);

const moved = (key, minutes) => {
  // The links of a step know what else was moved, also where that was kept and stands in no address.
  const query = new URLSearchParams(row(key).querySelector('a[href^="?"]').getAttribute("href"));
  const others = query.getAll("at").filter((at) => !at.startsWith(`${key}|`));
  query.delete("at");
  for (const at of others) query.append("at", at);
  const to = Number(row(key).dataset.from) + minutes;
  query.append("at", `${key}|${clock(Math.min(Math.max(0, to), 24 * 60))}`);
  location.assign(`?${query}`);
};

if (svg && list) {
  along(svg, svg.querySelectorAll("[data-step]"), Number(lanes.dataset.width), Number(lanes.dataset.minute) * grain, (block, units) => {
    if (units) moved(block.dataset.step, units * grain);
    else location.hash = row(block.dataset.step).id;
  });
}
