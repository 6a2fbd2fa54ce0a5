// A pour on the ribbon of what to make by when is dragged to another day: the page comes back with what that breaks.

import { along } from "./drag.js";

const ribbon = document.getElementById("ahead");
const form = document.getElementById("ahead-form");
const svg = ribbon?.querySelector("svg");

const shifted = (value, days) => {
  const [on, ...rest] = value.split("|");
  const date = new Date(`${on}T00:00:00Z`);
  date.setUTCDate(date.getUTCDate() + days);
  return [date.toISOString().slice(0, 10), ...rest].join("|");
};

const moved = (value, days) => {
  const query = new URLSearchParams();
  let done = false;
  for (const input of form.querySelectorAll("input[name=pour]")) {
    const mine = !done && input.value === value;
    done ||= mine;
    query.append("pour", mine ? shifted(value, days) : input.value);
  }
  location.assign(`/ahead?${query}`);
};

if (svg && form) {
  along(svg, svg.querySelectorAll("[data-pour]"), Number(ribbon.dataset.width), Number(ribbon.dataset.day), (block, days) => {
    if (days) moved(block.dataset.pour, days);
  });
}
