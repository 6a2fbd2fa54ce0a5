// What a page does with and without network: it takes on the worker that keeps pages where the browser
// allows one, says as of when an older page is, and gives its forms keys of their own.

const why = () => {
  if (!("serviceWorker" in navigator)) return "This browser keeps no pages without network; use a current one.";
  if (!window.isSecureContext)
    return "Over an open line (http) a browser keeps no pages without network. Open the shop by its address with https: Settings, Tablets and telephones.";
  return "";
};

export const freshKey = (old) =>
  // It begins with the life of the shop, as the page's own did.
  (old.includes("-") ? `${old.split("-")[0]}-` : "") +
  [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, "0")).join("");

const main = document.getElementById("main");
export const asOf = main?.dataset.asOf;

if (asOf) {
  const note = document.createElement("p");
  note.className = "note note-warn mb-3";
  note.id = "as-of";
  const strong = document.createElement("b");
  strong.textContent = "Without network: ";
  const when = new Date(asOf).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
  note.append(strong, `this page is as of ${when}. A hold or a stop may have come since. What you write down on make day is kept here and is checked by nobody until the network is back: look at the weights of lye and fats yourself.`);
  main.prepend(note);
  // It lay here before: a form of it that was sent once must not be taken for the same again.
  const old = document.querySelector("input[name=key]")?.value ?? "";
  const fresh = freshKey(old);
  for (const input of document.querySelectorAll("input[name=key]")) input.value = fresh;
}

const said = document.getElementById("without-network");
if (said) said.textContent = why() || "This device keeps the pages it has seen, and the whole of an open run.";

if (!why()) navigator.serviceWorker.register("/sw.js").catch(() => {}); // without it all is as over an open line

// keepRun has the worker fetch all steps of a run, now and then: a page that is looked at is kept in any
// case, and those to come change little.
const often = 10 * 60 * 1000; // ms
export const keepRun = async (run, steps) => {
  const last = Number(sessionStorage.getItem(`kept-${run}`) ?? 0);
  if (why() || asOf || Date.now() - last < often) return;
  const ready = await navigator.serviceWorker.ready;
  ready.active?.postMessage({ keep: steps });
  sessionStorage.setItem(`kept-${run}`, String(Date.now()));
};

// canTurn says whether another page is here without network.
export const canTurn = () => Boolean(navigator.serviceWorker?.controller);
