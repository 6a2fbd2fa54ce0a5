// The blend as one bar, sawn where its fats meet. A joint is dragged, or moved with the arrow keys: what
// one fat gives, its neighbour takes, so that the shares go on coming to the same. The fields are what
// counts; the bar writes into them and follows what is typed there. Shares that are weights, or no
// numbers, have no bar.

const bar = document.getElementById("blend");
const big = 5; // percent, of the page keys and with Shift

const rows = () =>
  [...document.querySelectorAll('#fats input[name^="fats["][name$="].percent"]')].map((share) => {
    const at = share.name.slice(0, -".percent".length);
    const of = (field) => document.querySelector(`#fats [name="${at}.${field}"]`);
    return { share, name: of("fat")?.value.trim() ?? "", locked: of("held")?.checked ?? false };
  });

const number = (text) => (/^\s*\d+([.,]\d+)?\s*%?\s*$/.test(text) ? Number(text.replace(",", ".").replace("%", "")) : NaN);
const written = (value) => String(Math.round(value * 100) / 100);

// filled are the rows with a fat and a share; none where one of the shares is no percentage.
const filled = () => {
  const all = rows().filter((r) => r.name || r.share.value.trim());
  const list = all.map((r) => ({ ...r, value: number(r.share.value) }));
  return list.some((r) => Number.isNaN(r.value)) ? [] : list;
};

let segments = [];
const draw = () => {
  const list = filled();
  bar.hidden = list.length < 2 || !list.some((r) => r.value > 0);
  if (bar.hidden) return;
  while (segments.length > list.length) segments.pop().remove();
  while (segments.length < list.length) {
    const segment = document.createElement("div");
    const name = document.createElement("span");
    const joint = document.createElement("button");
    joint.type = "button";
    joint.className = "joint";
    joint.setAttribute("role", "slider");
    joint.setAttribute("aria-valuemin", "0");
    segment.append(name, joint);
    bar.append(segment);
    segments.push(segment);
  }
  list.forEach((r, i) => {
    const [name, joint] = segments[i].children;
    segments[i].style.flexGrow = r.value;
    segments[i].className = `fat fat-${i % 4}${r.locked ? " locked" : ""}`;
    name.textContent = `${r.name} ${written(r.value)} %`;
    const next = list[i + 1];
    joint.hidden = !next;
    if (!next) return;
    joint.disabled = r.locked || next.locked;
    joint.setAttribute("aria-label", `Joint of ${r.name} and ${next.name}`);
    joint.setAttribute("aria-valuemax", written(r.value + next.value));
    joint.setAttribute("aria-valuenow", written(r.value));
    joint.setAttribute("aria-valuetext", `${r.name} ${written(r.value)} %, ${next.name} ${written(next.value)} %`);
  });
};

// give moves percent points over joint i, from the fat after it to the one before.
const give = (i, points) => {
  const list = filled();
  const [one, next] = [list[i], list[i + 1]];
  if (!one || !next || one.locked || next.locked) return;
  const moved = Math.min(next.value, Math.max(-one.value, points));
  one.share.value = written(one.value + moved);
  next.share.value = written(one.value + next.value - Number(one.share.value));
  draw();
  next.share.dispatchEvent(new Event("input", { bubbles: true }));
};

const jointOf = (event) => {
  const joint = event.target.closest(".joint");
  return joint ? segments.indexOf(joint.parentElement) : -1;
};

bar?.addEventListener("keydown", (event) => {
  const i = jointOf(event);
  const step = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: big, PageDown: -big }[event.key];
  if (i < 0 || !step) return;
  event.preventDefault();
  event.stopPropagation();
  give(i, event.shiftKey ? step * big : step);
});

bar?.addEventListener("pointerdown", (event) => {
  const i = jointOf(event);
  if (i < 0) return;
  const joint = segments[i].lastChild;
  const total = filled().reduce((sum, r) => sum + r.value, 0);
  const scale = total / bar.getBoundingClientRect().width;
  let from = event.clientX;
  const move = (at) => {
    const points = Math.round((at.clientX - from) * scale);
    if (!points) return;
    from += points / scale;
    give(i, points);
  };
  joint.setPointerCapture(event.pointerId);
  joint.addEventListener("pointermove", move);
  joint.addEventListener("lostpointercapture", () => joint.removeEventListener("pointermove", move), { once: true });
});

document.getElementById("fats")?.addEventListener("input", draw);
if (bar) draw();
