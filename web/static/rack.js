// A lot on the shelf goes to another level by hand or by key. What the drawing asks for is sent as a form,
// and the shelf says whether the level takes it.

const form = document.getElementById("to-place");
const racks = [...document.querySelectorAll("svg.rack[data-rack]")];
const slack = 8; // px that a hand may shake before it drags
const hold = 350; // ms that a finger rests on glass first, since moving it scrolls

const levelsOf = (rack) =>
  rack.dataset.levels.split(" ").map((text) => {
    const [level, y, h] = text.split(":").map(Number);
    return { level, y, h };
  });

const lotOf = (link) => link.getAttribute("href").split("/").pop();

const send = (link, rack, level) => {
  form.elements.lot.value = lotOf(link);
  form.elements.place.value = `${rack.dataset.rack}:${level}`;
  sessionStorage.setItem("moved", link.id);
  form.requestSubmit();
};

// under is the level of a rack at a point of the window.
const under = (x, y) => {
  for (const rack of racks) {
    const r = rack.getBoundingClientRect();
    if (x < r.left || x > r.right || y < r.top || y > r.bottom) continue;
    const at = ((y - r.top) * rack.viewBox.baseVal.height) / r.height;
    const level = levelsOf(rack).find((l) => at >= l.y && at < l.y + l.h);
    if (level) return { rack, level };
  }
  return null;
};

const marked = document.createElementNS("http://www.w3.org/2000/svg", "rect");
marked.setAttribute("class", "drop");
const mark = (over) => {
  if (!over) return marked.remove();
  const box = { x: 0, y: over.level.y, width: over.rack.viewBox.baseVal.width, height: over.level.h };
  for (const [name, value] of Object.entries(box)) marked.setAttribute(name, value);
  over.rack.append(marked);
};

// levelAt is the level on which a lot is drawn.
const levelAt = (rack, link) => {
  const box = link.querySelector(".hit").getBBox();
  const middle = box.y + box.height / 2;
  return levelsOf(rack).find((l) => middle >= l.y && middle < l.y + l.h);
};

const drag = (event) => {
  const link = event.target.closest("a");
  if (!link || !form || event.button > 0) return;
  const [x, y] = [event.clientX, event.clientY];
  let dragging = false;
  let over = null;
  const begin = () => {
    dragging = true;
    link.classList.add("is-held");
  };
  const wait = event.pointerType === "touch" ? setTimeout(begin, hold) : 0;
  const move = (at) => {
    const far = Math.hypot(at.clientX - x, at.clientY - y) > slack;
    if (!dragging && far) {
      if (event.pointerType === "touch") return end();
      begin();
    }
    if (!dragging) return;
    const rack = link.ownerSVGElement;
    const scale = rack.viewBox.baseVal.width / rack.getBoundingClientRect().width;
    link.setAttribute("transform", `translate(${(at.clientX - x) * scale} ${(at.clientY - y) * scale})`);
    mark((over = under(at.clientX, at.clientY)));
  };
  const stay = (touch) => dragging && touch.preventDefault(); // the page does not scroll under the finger
  const noClick = (click) => click.preventDefault();
  const end = (up) => {
    clearTimeout(wait);
    window.removeEventListener("pointermove", move);
    link.classList.remove("is-held");
    link.removeAttribute("transform");
    mark(null);
    setTimeout(() => {
      window.removeEventListener("touchmove", stay);
      link.removeEventListener("click", noClick);
    });
    if (!dragging || !over || up?.type !== "pointerup") return;
    const from = link.ownerSVGElement.dataset.rack ? levelAt(link.ownerSVGElement, link) : null;
    if (over.rack !== link.ownerSVGElement || over.level.level !== from?.level) send(link, over.rack, over.level.level);
  };
  link.addEventListener("click", (click) => dragging && click.preventDefault(), { once: true });
  window.addEventListener("touchmove", stay, { passive: false });
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", end, { once: true });
  window.addEventListener("pointercancel", end, { once: true });
};

const keys = (event) => {
  const link = event.target.closest("a");
  if (!link || event.ctrlKey || event.metaKey || event.altKey) return;
  const all = [...document.querySelectorAll("svg.rack a")];
  const along = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
  if (along && !event.shiftKey) {
    event.preventDefault();
    all[all.indexOf(link) + along]?.focus();
    return;
  }
  const up = { ArrowUp: 1, ArrowDown: -1 }[event.key];
  const rack = link.ownerSVGElement;
  if (!up || !event.shiftKey || !form || !rack.dataset.rack) return;
  event.preventDefault();
  const to = levelAt(rack, link).level + up;
  if (levelsOf(rack).some((l) => l.level === to)) send(link, rack, to);
};

for (const rack of document.querySelectorAll("svg.rack")) {
  rack.addEventListener("pointerdown", drag);
  rack.addEventListener("keydown", keys);
  rack.addEventListener("dragstart", (event) => event.preventDefault());
}

const hint = document.getElementById("rack-hint");
if (hint) hint.hidden = false;
document.getElementById(sessionStorage.getItem("moved") ?? "")?.focus();
sessionStorage.removeItem("moved");
