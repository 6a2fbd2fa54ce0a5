// Where one was on a page before it was loaded anew: a form that adds, moves or takes out a row leads to
// the same page, and the cursor goes on where the work does.

const key = "place";

document.addEventListener(
  "submit",
  ({ submitter, target }) => {
    const of = submitter ?? document.activeElement;
    const note = { path: location.pathname, y: scrollY, name: of?.name ?? "", value: of?.value ?? "", id: of?.id ?? "", to: target.action };
    sessionStorage.setItem(key, JSON.stringify(note));
  },
  { capture: true },
);

const visible = (e) => e.checkVisibility?.() ?? true;
const firstOf = (at) => [...document.querySelectorAll(`main [name^="${CSS.escape(at)}."]:not([type=hidden])`)].find(visible);
const button = (value) => document.querySelector(`main button[name="do"][value="${CSS.escape(value)}"]`);

// next is where the cursor belongs after a button.
const next = ({ name, value, id }) => {
  const [what, list] = value.split(" ", 2);
  const row = list?.match(/^(.*)\[(\d+)\]$/);
  if (name === "do" && what === "add") {
    const rows = [...document.querySelectorAll(`main [name^="${CSS.escape(list)}["]`)].map((e) => Number(e.name.slice(list.length + 1).split("]")[0]));
    return firstOf(`${list}[${Math.max(...rows)}]`) ?? button(value);
  }
  if (name === "do" && what === "remove" && row) {
    const n = Number(row[2]);
    return firstOf(list) ?? firstOf(`${row[1]}[${n - 1}]`) ?? button(`add ${row[1]}`);
  }
  if (name === "do" && what === "up" && row) {
    const up = `${row[1]}[${Number(row[2]) - 1}]`;
    return button(`up ${up}`) ?? firstOf(up);
  }
  return (
    (id && document.getElementById(id)) ||
    (name && [...document.querySelectorAll(`main [name="${CSS.escape(name)}"]`)].find((e) => e.value === value && e.type !== "hidden"))
  );
};

export const backToPlace = () => {
  const note = JSON.parse(sessionStorage.getItem(key) ?? "null");
  sessionStorage.removeItem(key);
  const here = document.activeElement;
  if (note?.path !== location.pathname || (here && here !== document.body)) return;
  const wrong = document.querySelector(".field:has(.err:not(:empty)) :is(input, select, textarea)");
  const to = (note.name === "do" && !["keep", "note"].includes(note.value) ? null : wrong) ?? next(note);
  if (!to || !visible(to)) return;
  if (!location.hash) scrollTo({ top: note.y });
  to.focus({ preventScroll: !location.hash });
  const r = to.getBoundingClientRect();
  if (r.top < 0 || r.bottom > innerHeight) to.scrollIntoView({ block: "center" });
};
