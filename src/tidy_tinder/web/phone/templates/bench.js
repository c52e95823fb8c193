// The bench on a phone. What is logged is kept here until the program has taken it in: sent again under the same key,
// in order, it is written once. Nothing of colour is worked out here; patches come from the program.
"use strict";

const KEPT = "tidy-tinder-bench-waiting";
const EVERY_MS = 1500;
const $ = (id) => document.getElementById(id);

let bench = null;
let shown = "";
let sending = false;

// Not randomUUID: a phone speaks to this program without encryption, where browsers do not have it.
const key = () => [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, "0")).join("");

function waiting() {
  try {
    const kept = JSON.parse(localStorage.getItem(KEPT) ?? "[]");
    return Array.isArray(kept) ? kept : [];
  } catch {
    return [];
  }
}

function keep(entries) {
  localStorage.setItem(KEPT, JSON.stringify(entries));
  const words = $("waiting");
  words.hidden = entries.length === 0;
  words.textContent = `${entries.length} ${entries.length === 1 ? "line waits" : "lines wait"} on this phone and will be sent.`;
}

function say(problem) {
  $("problem").hidden = problem === "";
  $("problem").textContent = problem;
}

class Refused extends Error {}

async function ask(path, body) {
  const answer = await fetch(path, body === undefined ? {} : { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) });
  const told = await answer.json().catch(() => ({}));
  if (!answer.ok) throw new Refused(told.detail ?? "The computer does not let this phone in any more.");
  return told;
}

function sent(entries) {
  const keys = new Set(entries.map((one) => one.key));
  keep(waiting().filter((one) => !keys.has(one.key)));
}

/** Send what waits, in order; where one line is refused, those before it are written, and it can be taken out here. */
async function send() {
  const entries = waiting();
  $("drop").hidden = true;
  if (entries.length === 0) return;
  try {
    await ask("/bench/log", { entries });
    sent(entries);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    for (const entry of entries) {
      try {
        await ask("/bench/log", { entries: [entry] });
        sent([entry]);
      } catch (refused) {
        $("drop").hidden = !(refused instanceof Refused);
        throw refused;
      }
    }
  }
}

/** Send what waits, then see how the bench stands. What is refused is said, and stays on the phone. */
async function refresh() {
  if (sending) return;
  sending = true;
  try {
    await send();
    bench = await ask("/bench/state");
    say("");
    draw();
  } catch (error) {
    say(error instanceof Refused ? error.message : "No connection to the computer. What you write is kept on this phone.");
  } finally {
    sending = false;
  }
}

async function act(path, body) {
  try {
    await ask(path, body);
    await refresh();
  } catch (error) {
    say(error instanceof Refused ? error.message : "No connection to the computer: this waits until there is one.");
  }
}

function log(entry) {
  keep([...waiting(), { key: key(), kind: "pencil", pressure: "", layers: 0, note: "", at: new Date().toISOString(), step_id: bench?.step?.id ?? null, section_id: bench?.section_id ?? 0, ...entry }]);
  shown = "";
  draw();
  void refresh();
}

function made(tag, words, more = {}) {
  const element = document.createElement(tag);
  element.textContent = words;
  Object.assign(element, more);
  return element;
}

/** Layers of a call that were ticked here and are still on their way. */
const underWay = (call) => waiting().filter((one) => one.call_id === call).length;

function pencil(one) {
  const row = made("li", "");
  const how = one.layer.pressure === "burnish" ? "burnish" : `${one.layer.layers} ${one.layer.pressure} ${one.layer.layers === 1 ? "layer" : "layers"}`;
  row.append(made("strong", one.colour.code, { className: "code" }), made("span", ` ${one.colour.range} ${one.colour.name}`), made("span", ` ${one.place}`, { className: "soft" }), made("p", how));
  if (one.stands_in_for !== null) row.append(made("p", `for ${one.stands_in_for.range} ${one.stands_in_for.code} ${one.stands_in_for.name}`, { className: "soft" }));
  const ticks = made("div", "", { className: "ticks" });
  const done = one.ticked + underWay(one.call_id);
  for (let i = 0; i < one.layer.layers; i += 1) {
    const tick = made("button", i < done ? "✓" : "", { type: "button", className: i < done ? "" : "pale" });
    tick.setAttribute("aria-pressed", String(i < done));
    tick.setAttribute("aria-label", `Layer ${i + 1} of ${one.colour.range} ${one.colour.code}`);
    tick.addEventListener("click", () => {
      if (i >= done) log({ what: `${one.colour.code} ${one.colour.range} ${one.colour.name}`, colour_id: one.colour.id, call_id: one.call_id, pressure: one.layer.pressure, layers: 1, instead_of_id: one.stands_in_for?.id ?? null });
      else void act("/bench/untick", { call_id: one.call_id, section_id: bench.section_id });
    });
    ticks.append(tick);
  }
  row.append(ticks);
  return row;
}

function drying(one) {
  const row = made("li", "");
  const minutes = Math.max(Math.floor(one.minutes), 0);
  const usual = one.answers === 0 ? "not known here yet" : `usually ${one.low.toFixed(0)} to ${one.high.toFixed(0)} min here`;
  row.append(made("p", `${minutes} min since ${one.wetting}, ${usual}`));
  const dry = made("button", "It is dry", { type: "button" });
  dry.addEventListener("click", () => void act("/bench/dry", { id: one.id, state: "dry" }));
  row.append(dry);
  return row;
}

function entry(one) {
  const what = one.colour === null ? one.note || one.kind : `${one.colour.code} ${one.colour.range} ${one.colour.name}`;
  return made("li", what);
}

/** What is to be minded stands open before the first stroke, once a sitting. */
function mind(step) {
  const cautions = step?.cautions ?? [];
  $("cautions").hidden = cautions.length === 0;
  if (cautions.length === 0) return;
  const read = `tidy-tinder-read-${bench.clock?.sitting_id ?? 0}-${cautions.map((one) => one.material).join("-")}`;
  $("cautions").open = localStorage.getItem(read) === null;
  $("cautions").ontoggle = () => $("cautions").open || localStorage.setItem(read, "read");
  $("minded").textContent = `What to mind with ${cautions.map((one) => one.material).join(" and ")}`;
  $("minding").replaceChildren(...[...cautions.map((one) => one.words), bench.first].map((words) => made("p", words)));
}

/** Draw what changed: what a thumb is on is not exchanged under it. */
function draw() {
  if (bench === null) return;
  const entries = waiting();
  const now = JSON.stringify([bench.version, bench.section_id, bench.step?.id, bench.dryings.map((one) => Math.floor(one.minutes)), entries.length]);
  if (now === shown) return;
  shown = now;
  keep(entries);
  const { step } = bench;
  $("drawing").textContent = bench.drawing;
  const section = bench.sections.find((one) => one.id === bench.section_id);
  $("where").textContent = step === null ? "As you go" : [`Step ${step.number} of ${step.of}`, step.area, section === undefined ? "" : `section ${section.name}`].filter(Boolean).join(" · ");
  $("text").textContent = step?.text ?? "";
  $("pencils").replaceChildren(...(step?.pencils ?? []).map(pencil));
  $("missing").textContent = step !== null && step.missing.length > 0 ? `No pencil yet for ${step.missing.join(", ")}: log what you take.` : "";
  const seen = step !== null && step.now !== null && step.after !== null;
  $("passage").hidden = !seen;
  if (seen) {
    $("now").style.backgroundColor = step.now.patch.hex;
    $("after").style.backgroundColor = step.after.patch.hex;
  }
  const known = seen ? `${step.after.trust}${step.after.band === null ? "" : ` ± ${step.after.band.toFixed(1)} ΔE`}` : "";
  $("look").textContent = seen ? `Now, and after this step: ${step.changes.words.join(", ") || "as near as can be told"} (${known}). Screens differ; the paper decides.` : "";
  mind(step);
  for (const id of ["back", "on"]) $(id).hidden = step === null;
  $("dryings").replaceChildren(...bench.dryings.map(drying));
  $("wet").hidden = bench.wet_here !== null;
  const wetting = step?.wetting ?? "solvent";
  $("wet").textContent = `${wetting.charAt(0).toUpperCase()}${wetting.slice(1)} is on: time it`;
  $("log").replaceChildren(...entries.map((one) => made("li", `waits: ${one.what ?? one.note}`, { className: "soft" })).reverse(), ...bench.log.slice(0, 10).map(entry));
}

document.addEventListener("DOMContentLoaded", () => {
  keep(waiting());
  $("on").addEventListener("click", () => bench?.step && void act("/bench/on", { step_id: bench.step.id, state: "done" }));
  $("back").addEventListener("click", () => void act("/bench/back", {}));
  $("wet").addEventListener("click", () => bench !== null && void act("/bench/wet", { section_id: bench.section_id, wetting: bench.step?.wetting ?? "solvent", key: key() }));
  $("drop").addEventListener("click", () => {
    keep(waiting().slice(1));
    void refresh();
  });
  $("also").addEventListener("submit", async (event) => {
    event.preventDefault();
    const said = $("said").value.trim();
    if (said === "") return;
    const written = (entry) => {
      log(entry);
      $("said").value = "";
      $("found").replaceChildren();
    };
    try {
      const { sure, found } = await ask(`/bench/called?q=${encodeURIComponent(said)}`);
      if (sure !== null) return written({ colour_id: sure, what: said });
      $("found").replaceChildren(...found.map((one) => {
        const row = made("li", "");
        const choose = made("button", `${one.code} ${one.range} ${one.name}`, { type: "button", className: "pale" });
        choose.addEventListener("click", () => written({ colour_id: one.id, what: `${one.code} ${one.range} ${one.name}` }));
        row.append(choose);
        return row;
      }));
      if (found.length === 0) say(`No colour is called “${said}”.`);
    } catch (error) {
      if (error instanceof Refused) say(error.message);
      // Which pencil it is cannot be asked now: the words are kept, and can be made a pencil on the computer.
      else written({ kind: "note", note: `also used: ${said}` });
    }
  });
  void refresh();
  setInterval(() => void refresh(), EVERY_MS);
});
