// Timers, kept in this browser until they are stopped: a button marked data-timer starts one, and
// the list with the id timer-list shows them.

const timers = {
  get list() {
    return JSON.parse(localStorage.getItem("timers") ?? "[]");
  },
  set list(all) {
    localStorage.setItem("timers", JSON.stringify(all));
  },
};

let sound;
const beep = () => {
  sound ??= new AudioContext();
  sound.resume();
  for (const at of [0, 0.25, 0.5]) {
    const tone = sound.createOscillator();
    const volume = sound.createGain();
    tone.frequency.value = 880;
    volume.gain.value = 0.2;
    tone.connect(volume).connect(sound.destination);
    tone.start(sound.currentTime + at);
    tone.stop(sound.currentTime + at + 0.15);
  }
};

// chip is where timers are shown on a page that has no list of its own: only while there are some.
const chip = () => {
  const there = document.getElementById("timer-chip");
  if (timers.list.length === 0) return there?.remove();
  if (there) return there;
  const list = document.createElement("ul");
  list.id = "timer-chip";
  list.className = "timers timer-chip";
  list.setAttribute("aria-label", "Timers");
  document.querySelector("main")?.append(list);
  return list;
};

const title = document.title;
let beeped = 0;
export const showTimers = () => {
  const place = document.getElementById("timer-list") ?? chip();
  if (!place) return;
  const now = Date.now();
  const all = timers.list;
  const ringing = all.filter((t) => t.ends <= now);
  while (place.children.length > all.length) place.lastChild.remove();
  all.forEach((t, i) => {
    let line = place.children[i];
    if (!line) {
      line = document.createElement("li");
      const name = document.createElement("span");
      const left = document.createElement("span");
      const stop = document.createElement("button");
      left.className = "left";
      stop.type = "button";
      stop.className = "btn btn-small";
      stop.textContent = "Stop";
      stop.addEventListener("click", () => {
        timers.list = timers.list.filter((one) => one.id !== line.dataset.id);
        showTimers();
      });
      line.append(name, left, stop);
      place.append(line);
    }
    line.dataset.id = t.id;
    const seconds = Math.max(0, Math.ceil((t.ends - now) / 1000));
    line.children[0].textContent = t.name;
    line.children[1].textContent = seconds ? `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}` : "now";
    line.classList.toggle("rings", seconds === 0);
  });
  const next = ringing[0] ?? all.toSorted((a, b) => a.ends - b.ends)[0];
  document.title = ringing.length ? `(!) ${ringing[0].name}: now` : title;
  if (next && !ringing.length && document.hidden) {
    const seconds = Math.ceil((next.ends - now) / 1000);
    document.title = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")} ${next.name}`;
  }
  if (ringing.length && now - beeped > 2000) {
    beeped = now;
    beep();
  }
};

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-timer]");
  if (!button) return;
  sound ??= new AudioContext(); // a sound needs a press to be allowed
  const ends = Date.now() + Number(button.dataset.minutes) * 60000;
  timers.list = [...timers.list, { id: crypto.randomUUID?.() ?? String(ends), name: button.dataset.timer, ends }];
  showTimers();
});

// A hidden window's own timers are slowed down; those of a worker are not.
const beat = new Worker(new URL("./beat.js", import.meta.url), { type: "module" });
export const onBeat = (each) => beat.addEventListener("message", each);
onBeat(showTimers);
showTimers();
