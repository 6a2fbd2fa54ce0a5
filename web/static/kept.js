// What was just recorded is said once on the page that follows, with a way to take it back where there
// is one. It lies over the page for some seconds, so that nothing moves under a finger, and stays while
// somebody points at it.

const shown = 8000; // ms

const read = () => {
  const found = document.cookie.split("; ").find((c) => c.startsWith("kept="));
  if (!found) return null;
  document.cookie = "kept=; Max-Age=0; Path=/; SameSite=Strict";
  try {
    const text = atob(found.slice("kept=".length).replace(/-/g, "+").replace(/_/g, "/"));
    return JSON.parse(new TextDecoder().decode(Uint8Array.from(text, (c) => c.charCodeAt(0))));
  } catch {
    return null; // a cookie that is not ours says nothing
  }
};

// undoForm sends what takes it back, with the key and the newest entry that this page knows.
const undoForm = ({ path, fields }) => {
  const form = document.createElement("form");
  form.method = "post";
  form.action = path;
  const of = (name) => document.querySelector(`main input[name="${name}"]`)?.value ?? "";
  for (const [name, value] of Object.entries({ key: of("key"), tab: of("tab"), seen: of("seen"), ...fields })) {
    const input = document.createElement("input");
    Object.assign(input, { type: "hidden", name, value });
    form.append(input);
  }
  const button = document.createElement("button");
  button.className = "btn btn-small";
  button.textContent = "Undo";
  form.append(button);
  return form;
};

export const showKept = () => {
  const kept = read();
  if (!kept?.said) return;
  const box = document.createElement("div");
  box.className = "kept";
  box.id = "kept";
  box.setAttribute("role", "status");
  const words = document.createElement("span");
  box.append(words);
  const main = document.querySelector("main");
  if (kept.undo && main?.querySelector('input[name="key"]')) box.append(undoForm(kept.undo));
  main?.append(box);
  words.textContent = kept.said; // after it stands there, so that it is read aloud
  let left = shown;
  const tick = setInterval(() => {
    if (!box.matches(":hover, :focus-within")) left -= 500;
    if (left > 0) return;
    clearInterval(tick);
    box.remove();
  }, 500);
};
