// The list in the shop. Ticks are kept on this phone until the program has taken them in; sent twice they are ticked once.
"use strict";

const KEPT = "tidy-tinder-list-ticks";
const EVERY_MS = 4000;
const $ = (id) => document.getElementById(id);

let sending = false;

function waiting() {
  try {
    const kept = JSON.parse(localStorage.getItem(KEPT) ?? "{}");
    return kept !== null && typeof kept === "object" && !Array.isArray(kept) ? kept : {};
  } catch {
    return {};
  }
}

function keep(ticks) {
  localStorage.setItem(KEPT, JSON.stringify(ticks));
  const count = Object.keys(ticks).length;
  $("waiting").hidden = count === 0;
  $("waiting").textContent = `${count} ${count === 1 ? "tick waits" : "ticks wait"} on this phone and will be sent.`;
}

function say(problem) {
  $("problem").hidden = problem === "";
  $("problem").textContent = problem;
}

async function send() {
  const ticks = waiting();
  const lines = Object.entries(ticks).map(([id, ticked]) => ({ id: Number(id), ticked }));
  if (sending || lines.length === 0) return;
  sending = true;
  try {
    const answer = await fetch("/list/ticks", { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify({ ticks: lines }) });
    if (answer.ok) {
      // What was ticked while it was under way waits on.
      keep(Object.fromEntries(Object.entries(waiting()).filter(([id, ticked]) => ticks[id] !== ticked)));
      say("");
    } else {
      const told = await answer.json().catch(() => ({}));
      say(told.detail ?? "The computer does not let this phone in any more. What you ticked is kept here.");
    }
  } catch {
    // The computer is not near: that is how it is in a shop.
  } finally {
    sending = false;
  }
}

for (const box of document.querySelectorAll("input[data-line]")) {
  const kept = waiting()[box.dataset.line];
  if (typeof kept === "boolean") box.checked = kept;
  box.addEventListener("change", () => {
    keep({ ...waiting(), [box.dataset.line]: box.checked });
    void send();
  });
}
keep(waiting());
void send();
setInterval(() => void send(), EVERY_MS);
