// A pour on the ribbon of what to make by when is dragged to another day: the page comes back with what that breaks.

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

for (const block of svg && form ? svg.querySelectorAll("[data-pour]") : []) {
  block.addEventListener("pointerdown", (event) => {
    const scale = svg.getBoundingClientRect().width / Number(ribbon.dataset.width);
    const day = Number(ribbon.dataset.day) * scale;
    const from = event.clientX;
    let days = 0;
    block.setPointerCapture(event.pointerId);
    const move = (e) => {
      days = Math.round((e.clientX - from) / day);
      block.setAttribute("transform", `translate(${(days * day) / scale} 0)`);
    };
    const drop = () => {
      block.removeEventListener("pointermove", move);
      if (days) moved(block.dataset.pour, days);
    };
    block.addEventListener("pointermove", move);
    block.addEventListener("pointerup", drop, { once: true });
    event.preventDefault();
  });
}
