// The blend as one bar, sawn where its fats meet. A joint is dragged, or moved with the arrow keys: what
// one fat gives, its neighbour takes, so that the shares go on coming to the same. A fat itself is
// dragged, or moved with the arrow keys, to another place in the order. The fields are what counts; the bar writes into them and follows what is typed there. Shares that are weights, or no
// numbers, have no bar.

const bar = document.getElementById("blend");
const big = 5; // percent, of the page keys and with Shift

const rows = () =>
  [...document.querySelectorAll('#fats input[name^="fats["][name$="].percent"]')].map((share) => {
    const at = share.name.slice(0, -".percent".length);
    const of = (field) => document.querySelector(`#fats [name="${at}.${field}"]`);
    return { at, share, name: of("fat")?.value.trim() ?? "", locked: of("held")?.checked ?? false };
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
    const name = document.createElement("button");
    name.type = "button";
    name.className = "place";
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
    name.setAttribute("aria-description", "Arrow keys move it to another place in the order");
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

// swap lets two neighbouring fats change places: all that is typed in their rows goes along.
const swap = (i, j) => {
  const list = filled();
  const [one, other] = [list[i], list[j]];
  if (!one || !other) return false;
  for (const field of document.querySelectorAll(`#fats [name^="${one.at}."]`)) {
    const twin = document.querySelector(`#fats [name="${other.at}${field.name.slice(one.at.length)}"]`);
    if (!twin) continue;
    [field.value, twin.value] = [twin.value, field.value];
    [field.checked, twin.checked] = [twin.checked, field.checked];
  }
  draw();
  other.share.dispatchEvent(new Event("input", { bubbles: true }));
  return true;
};

const placeOf = (event) => {
  const place = event.target.closest(".place");
  return place ? segments.indexOf(place.parentElement) : -1;
};

bar?.addEventListener("keydown", (event) => {
  const i = placeOf(event);
  const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
  if (i < 0 || !step) return;
  event.preventDefault();
  event.stopPropagation();
  if (swap(i, i + step)) segments[i + step].firstChild.focus();
});

bar?.addEventListener("pointerdown", (event) => {
  let i = placeOf(event);
  if (i < 0) return;
  const held = segments[i].firstChild;
  const move = (at) => {
    const over = segments.findIndex((s) => {
      const r = s.getBoundingClientRect();
      return at.clientX >= r.left && at.clientX < r.right;
    });
    if (over < 0 || over === i) return;
    // Past the middle of the neighbour, so that two of unlike size do not change to and fro.
    const next = segments[i + Math.sign(over - i)].getBoundingClientRect();
    const middle = (next.left + next.right) / 2;
    if (over > i ? at.clientX < middle : at.clientX > middle) return;
    if (swap(i, i + Math.sign(over - i))) i += Math.sign(over - i);
  };
  held.setPointerCapture(event.pointerId);
  held.addEventListener("pointermove", move);
  held.addEventListener("lostpointercapture", () => held.removeEventListener("pointermove", move), { once: true });
});

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
