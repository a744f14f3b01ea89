// What a household presses on a sheet, on its page and in its file: how often a round was right, or how the dog looked each time. A file
// holds this text without its exports, so it imports nothing.

function two(/** @type {number} */ n) {
  return String(n).padStart(2, "0");
}

// dayOf is a day on this device, so many days ago, as YYYY-MM-DD.
export function dayOf(/** @type {number} */ ago) {
  const day = new Date();
  day.setDate(day.getDate() - ago);
  return `${day.getFullYear()}-${two(day.getMonth() + 1)}-${two(day.getDate())}`;
}

// show makes the keys of a round say what was pressed.
export function show(/** @type {HTMLElement} */ round) {
  const presses = (round.dataset.presses || "").split(" ").filter(Boolean);
  for (const key of round.querySelectorAll("button")) {
    if (key.dataset.met) key.setAttribute("aria-pressed", String(key.dataset.met === presses[0]));
    if (key.dataset.look) key.querySelector("[data-n]").textContent = String(presses.filter((look) => look === key.dataset.look).length || "");
    if ("less" in key.dataset) key.disabled = !presses.length;
  }
}

// press answers a click; it says whether that was on a key of a round. A key that is on goes off.
export function press(/** @type {Event} */ event, /** @type {string} */ day) {
  const key = /** @type {HTMLElement} */ (event.target).closest("button");
  const round = /** @type {HTMLElement} */ (key && key.closest("[data-round]"));
  if (!round) return false;
  const presses = (round.dataset.presses || "").split(" ").filter(Boolean);
  if (key.dataset.met) round.dataset.presses = key.dataset.met === presses[0] ? "" : key.dataset.met;
  else round.dataset.presses = (key.dataset.look ? [...presses, key.dataset.look] : presses.slice(0, -1)).join(" ");
  round.dataset.day = day;
  show(round);
  return true;
}

// pressed lists what stands pressed, a line for each round. A remark belongs to the last one of its skill.
export function pressed() {
  const lines = [];
  for (const skill of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-skill]"))) {
    const said = (/** @type {string} */ what) => /** @type {HTMLInputElement} */ (skill.querySelector(`[data-${what}]`)).value.trim();
    const of = lines.length;
    for (const round of /** @type {NodeListOf<HTMLElement>} */ (skill.querySelectorAll("[data-round]"))) {
      const presses = (round.dataset.presses || "").split(" ").filter(Boolean);
      if (!presses.length) continue;
      const looks = (/** @type {string} */ look) => presses.filter((one) => one === look).length;
      const faces = "faces" in round.dataset;
      lines.push({
        skill: skill.dataset.skill, plan: skill.dataset.plan, step: skill.dataset.step, day: round.dataset.day,
        met: faces ? 0 : Number(presses[0]), of: faces ? presses.length : Number(round.dataset.of),
        relaxed: looks("relaxed"), unsure: looks("unsure"), worried: looks("worried"), place: said("place"), remark: "",
      });
    }
    if (lines.length > of) lines[lines.length - 1].remark = said("remark");
  }
  return lines;
}

// count is what a line says, in words that a trainer's page reads.
export function count(/** @type {any} */ line) {
  const looks = ["relaxed", "unsure", "worried"].filter((look) => line[look]).map((look) => `${line[look]} ${look}`);
  return looks.length ? looks.join(" ") : `${line.met} of ${line.of}`;
}

// clear puts everything back as nobody had pressed; a place stays, because the next round is mostly there too.
export function clear() {
  for (const round of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-round]"))) {
    delete round.dataset.presses;
    show(round);
  }
  for (const one of /** @type {NodeListOf<HTMLInputElement>} */ (document.querySelectorAll("[data-remark]"))) one.value = "";
}
