// Drawing of the Run screen: what the core shows, put into the page. It computes nothing.
/** @param {string} id @returns {any} the element with an id */
export const $ = (id) => document.getElementById(id);
export const root = $("run");

// all lists the elements that a selector finds.
/** @param {string} selector @param {ParentNode} [under] @returns {any[]} */
export const all = (selector, under = document) => [...under.querySelectorAll(selector)];

const wheres = all("[data-where]");
const more = all(".more")[0];
const standing = all('.pad > .grid > [data-key], #advice [data-key]'); // keys that are always there
const tells = all("[data-tell]");
const shapes = new Map(all("template[data-shape]").map((t) => [t.dataset.shape, t]));

export function text(/** @type {string} */ id, /** @type {any} */ value) {
  const node = $(id);
  if (node.textContent !== value) node.textContent = value;
}

// hide touches an element only where it changes: the same again costs a tap its style.
function hide(/** @type {string} */ id, /** @type {boolean} */ hidden) {
  const node = $(id);
  if (node.hidden !== hidden) node.hidden = hidden;
}

export function show(/** @type {string[]} */ ...ids) {
  for (const id of ["carried", "refused", "setup", "board", "exits", "turn", "tally", "looks", "ways", "pocket", "join", "closing", "over", "elsewhere", "message"]) hide(id, !ids.includes(id));
}

// panel shows a panel in the board's place, with the focus on its title.
export function panel(/** @type {string} */ id) {
  show(id);
  $(`${id}-title`).focus();
}

export function message(/** @type {string} */ title, /** @type {string} */ text) {
  $("message-title").textContent = title;
  $("message-text").textContent = text;
  show("message");
}

// failed says that something did not work; what is on the screen stays, and can be tried again.
export function failed(/** @type {Error} */ error) {
  text("trouble-text", `That did not work, and nothing was changed by it. Try again. (${error.message})`);
  $("trouble").hidden = false;
}

// heard makes a listener of a handler: where it fails, that is shown.
export const heard = (/** @type {(event: any) => any} */ handler) => async (/** @type {any} */ event) => {
  $("trouble").hidden = true;
  try {
    await handler(event);
  } catch (error) {
    failed(error);
  }
};

// on listens to one event of one element; where its handler fails, that is shown.
export const on = (/** @type {any} */ node, /** @type {any} */ event, /** @type {(event: any) => any} */ handler) => node.addEventListener(event, heard(handler));

export function broken(/** @type {Error} */ error) {
  message("This page has to be opened anew", `What was logged is kept on this device. (${error.message})`);
}

const LONG = 60; // characters of a step from which on it is set smaller, so that the board keeps its room

export function drawView(/** @type {View} */ v) {
  text("dog", v.dog);
  text("skill", v.skill);
  text("step", v.step);
  $("step").classList.toggle("long", v.step.length > LONG);
  text("where", v.where);
  text("target", v.target);
  drawDial(v);
  $("board").classList.toggle("live", v.dial.live);
  text("pace", v.pay.word ? `Pay: ${v.pay.word} ·` : "");
  $("pace").className = `pace ${v.pay.word}`;
  text("next-pay", v.pay.next);
  hide("next-pay", !v.pay.next);
  text("gone", v.pay.gone);
  hide("gone", !v.pay.gone || Boolean(v.advice.line));
  text("sheet-line", v.sheet.line);
  text("sheet-next", v.sheet.done ? v.sheet.next : "");
  hide("sheet", !v.sheet.line || v.phase === "warming");
  text("way", v.way || "");
  hide("way", !v.way);
  drawSet(v.set);
  drawVerdict(v);
  // What the style sheet makes room by: classes, because asking it what the board contains costs every tap.
  const board = { said: Boolean((v.after || []).length), advised: Boolean(v.advice.line), decides: v.verdict.show, drawn: Boolean(v.body), warming: v.phase === "warming", trying: v.phase === "trying" };
  for (const [name, on] of Object.entries({ ...board, crowded: board.decides && (board.advised || Boolean(v.caution)) })) {
    $("board").classList.toggle(name, on);
  }
  text("main-label", v.main.label);
  text("main-sub", v.main.sub);
  const off = new Set(v.off || []);
  for (const id of ["again", "offer"]) hide(id, !v.on_cue);
  hide("early", !v.asks);
  hide("fetched", off.has("fetched"));
  hide("wanted", off.has("wanted"));
  hide("decoy", Boolean((v.states || []).length));
  hide("looks-open", !(v.row || []).some(({ shape }) => shape && shape.startsWith("state")));
  drawKeys($("row"), v.row || [], "key tall");
  drawAfter(v.after || []);
  drawKeys($("beside"), v.beside || [], "key");
  hide("beside", !(v.beside || []).length);
  text("advice-line", v.advice.line);
  hide("advice", !v.advice.line);
  $("advice").classList.toggle("urgent", v.advice.urgent);
  hide("advice-finish", !v.advice.finish);
  text("caution", v.caution || "");
  hide("caution", !v.caution);
  text("helps", v.helps || "");
  for (const id of ["helps", "pen"]) hide(id, !v.helps);
  text("end", v.helps ? "Leave" : "End");
  drawBody(v.body);
  // The large key keeps its focus: while it rests the core takes no press of it.
  for (const keys of [standing, $("row").children, $("beside").children]) {
    for (const key of keys) key.disabled = off.has(key.dataset.key);
  }
  text("pay-label", v.pay.key);
  text("break-label", v.phase === "paused" ? "Go on" : "Break");
  text("log", v.log);
  text("tells-line", v.tells || "");
  if (root.dataset.last !== (v.last || "")) { // what was said is of the trial before
    root.dataset.last = v.last || "";
    for (const select of tells) select.value = "";
    hide("tells-care", true);
  }
  hide("lined", !v.lined);
  drawWorked(v.worked || []);
  $("worked-once").checked = Boolean(v.once);
  drawKeys($("states"), v.states || [], "key small");
  drawKeys($("arousal"), v.arousal || [], "key small");
  for (const id of ["states", "states-head"]) hide(id, !(v.states || []).length);
  hide("tells", !v.tells);
  drawMore(v);
}

// drawDial draws what changes while something is waited for.
export function drawDial(/** @type {View} */ v) {
  text("dial-big", v.dial.big);
  text("dial-of", v.dial.of);
  $("dial").classList.toggle("full", v.dial.full);
  $("dial").classList.toggle("slow", v.dial.slow);
  const open = String(100 - 100 * v.dial.part);
  if ($("dial-part").getAttribute("stroke-dashoffset") !== open) $("dial-part").setAttribute("stroke-dashoffset", open);
  text("since", v.pay.since);
}

// drawMore enables what is behind “More keys” while it is seen: what is folded away would cost every tap.
export function drawMore(/** @type {View} */ v) {
  if (!more.open) return;
  const off = new Set(v.off || []);
  for (const key of all("[data-key]", more)) key.disabled = off.has(key.dataset.key);
  for (const key of wheres) key.disabled = off.has("slow");
}

// Rows of keys are what the core says they are: outcomes, states, approximations, answers to a verdict. A key that becomes
// another one is written over in place: made anew, each would cost a tap its style and its layout.
function drawKeys(/** @type {HTMLElement} */ row, /** @type {Button[]} */ keys, /** @type {string} */ style) {
  const drawn = JSON.stringify(keys);
  if (row.dataset.drawn === drawn) return;
  row.dataset.drawn = drawn;
  row.classList.toggle("many", keys.length > 3);
  row.classList.toggle("five", keys.length > 4);
  row.classList.toggle("six", keys.length > 5);
  row.classList.toggle("states", keys.some(({ shape }) => Boolean(shape?.startsWith("state"))));
  /** @type {HTMLElement | null} */
  const focused = row.querySelector(":focus");
  const was = focused?.dataset.key;
  while (row.children.length > keys.length) row.lastElementChild?.remove();
  while (row.children.length < keys.length) row.append(newKey(style));
  keys.forEach((key, i) => drawKey(/** @type {HTMLElement} */ (row.children[i]), key));
  if (focused && focused.dataset.key !== was) focused.blur(); // what has the focus never turns into another key
}

function newKey(/** @type {string} */ style) {
  const button = Object.assign(document.createElement("button"), { type: "button", className: style });
  button.append(document.createElement("span"));
  return button;
}

function drawKey(/** @type {HTMLElement} */ button, /** @type {Button} */ { key, label, shape = "", kbd = "", on }) {
  const says = /** @type {HTMLElement} */ (button.querySelector("span"));
  const hint = button.querySelector("kbd");
  button.dataset.key = key;
  if (on === undefined) button.removeAttribute("aria-pressed");
  else button.setAttribute("aria-pressed", String(on));
  if ((button.dataset.shape || "") !== shape) {
    button.dataset.shape = shape;
    button.querySelector("svg")?.remove();
    if (shape) button.prepend(shapes.get(shape).content.cloneNode(true));
    button.querySelector("svg")?.setAttribute("aria-hidden", "true");
  }
  if (says.textContent !== label) says.textContent = label;
  if (!kbd) hint?.remove();
  else if (!hint) button.append(Object.assign(document.createElement("kbd"), { textContent: kbd }));
  else if (hint.textContent !== kbd) hint.textContent = kbd;
  if (kbd) button.dataset.kbd = kbd.toLowerCase();
  else delete button.dataset.kbd;
}

// What more can be said of the last trial stands in rows, where the dial is while one is under way.
function drawAfter(/** @type {Button[][]} */ rows) {
  const after = $("after");
  hide("after", !rows.length);
  if (!rows.length) return; // they stay for the next trial, which most often can be said the same of
  while (after.children.length > rows.length) after.lastChild.remove();
  while (after.children.length < rows.length) after.append(Object.assign(document.createElement("div"), { className: "grid grid-flow-col auto-cols-fr gap-1" }));
  rows.forEach((keys, i) => drawKeys(after.children[i], keys, "key said"));
}

// Where on the outline a word of a list of sites lies; what is not there stands beside it as a word.
/** @type {Record<string, number[]>} */
const places = {
  muzzle: [16, 47], mouth: [18, 51], nose: [12, 45], eye: [33, 35], head: [40, 32], ear: [48, 26], neck: [58, 48], throat: [48, 57], collar: [61, 56],
  shoulder: [76, 56], chest: [67, 68], back: [105, 48], flank: [118, 60], side: [100, 62], belly: [112, 75], hip: [150, 52], rump: [160, 46],
  tail: [171, 33], foreleg: [76, 88], elbow: [78, 78], "hind leg": [158, 82], thigh: [152, 68], paw: [79, 106], "front paw": [79, 106], "hind paw": [163, 106],
};

// The settings of the step as they really are, each with a key for less and one for more.
function drawWorked(/** @type {Setting[]} */ settings) {
  const drawn = JSON.stringify(settings);
  if ($("worked").dataset.drawn === drawn) return;
  const had = document.activeElement instanceof HTMLElement ? document.activeElement.dataset.alter : "";
  $("worked").dataset.drawn = drawn;
  hide("worked", !settings.length);
  $("worked-list").replaceChildren(
    ...settings.map(({ key, label, value, other, list }) => {
      const li = document.createElement("li");
      li.className = "flex items-center gap-2";
      const says = Object.assign(document.createElement("span"), { className: other ? "flex-1 font-bold" : "flex-1", textContent: `${label}: ${value || "not said"}` });
      const alter = (/** @type {number} */ by, /** @type {string} */ sign) => {
        const button = Object.assign(document.createElement("button"), { type: "button", className: "btn small", textContent: sign });
        button.dataset.alter = `${key} ${by}`;
        const says = list ? ["The one before", "The next"] : ["Less", "More"];
        button.setAttribute("aria-label", `${says[by < 0 ? 0 : 1]}: ${label}`);
        return button;
      };
      li.append(says, alter(-1, list ? "‹" : "−"), alter(1, list ? "›" : "+"));
      return li;
    }),
  );
  if (had) /** @type {HTMLElement | null} */ (root.querySelector(`[data-alter="${had}"]`))?.focus();
}

// placeOf is where a site lies on the outline; a side before or behind its name changes nothing.
function placeOf(/** @type {string} */ name) {
  const word = name.toLowerCase();
  return places[word] || places[word.replace(/^(left|right) /, "").replace(/, ?(left|right)$/, "")];
}

function svg(/** @type {string} */ name, /** @type {Record<string, any>} */ attributes) {
  const node = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) node.setAttribute(key, String(value));
  return node;
}

// A site on the outline: its level as a shape, ringed where it is next.
function spotOf(/** @type {Site} */ site, /** @type {number} */ x, /** @type {number} */ y) {
  const classes = ["spot", site.at ? "at" : site.next ? "next" : "", site.mark || "", site.over ? "over" : ""];
  const spot = svg("g", { class: classes.filter(Boolean).join(" "), role: "button", tabindex: 0, "aria-label": site.says, "aria-pressed": Boolean(site.at) });
  spot.dataset.site = site.name;
  spot.append(svg("circle", { cx: x, cy: y, r: 12.6, class: "hit" }), svg("circle", { cx: x, cy: y, r: site.at || site.next ? 10 : 8.5, class: "mark" }));
  const note = site.mark === "never" ? "×" : site.over ? "–" : "";
  if (note) {
    spot.append(Object.assign(svg("text", { x, y: y + 4.5, class: "note" }), { textContent: note }));
  } else if (site.shape) {
    const glyph = shapes.get(site.shape).content.cloneNode(true).firstElementChild;
    for (const [key, value] of Object.entries({ x: x - 8, y: y - 8, width: 16, height: 16 * 32 / 24, "aria-hidden": "true" })) glyph.setAttribute(key, value);
    spot.append(glyph);
  }
  if (site.mark === "sore") spot.append(Object.assign(svg("text", { x: x + 10, y: y - 5, class: "note" }), { textContent: "!" }));
  return spot;
}

function drawBody(/** @type {View["body"]} */ body) {
  $("body").toggleAttribute("hidden", !body); // a drawing has no property of that name
  hide("site-others", !body);
  hide("visit", !body || Boolean(body.parts) || !(body.tool || body.can || body.other));
  if (!body) hide("parts", true);
  text("body-says", body?.says || "");
  hide("body-says", !body?.says);
  const drawn = JSON.stringify(body || null);
  if ($("body").dataset.drawn === drawn) return;
  $("body").dataset.drawn = drawn;
  if (!body) return;
  const turned = body.right ? "translate(192) scale(-1,1)" : "";
  $("dog-side").setAttribute("transform", turned);
  const spots = [];
  const words = [];
  for (const site of body.sites || []) {
    const at = placeOf(site.name);
    if (at) {
      spots.push(spotOf(site, body.right ? 192 - at[0] : at[0], at[1]));
      continue;
    }
    const button = Object.assign(document.createElement("button"), { type: "button", className: "btn small", textContent: site.name });
    if (site.shape) button.prepend(shapes.get(site.shape).content.cloneNode(true));
    button.dataset.site = site.name;
    button.setAttribute("aria-label", site.says);
    button.setAttribute("aria-pressed", String(Boolean(site.at)));
    words.push(button);
  }
  const focused = document.activeElement instanceof Element ? document.activeElement.closest("[data-site]")?.getAttribute("data-site") : "";
  $("sites").replaceChildren(...spots);
  $("site-others").replaceChildren(...words);
  if (focused) /** @type {any} */ ([...spots, ...words].find((one) => one.dataset.site === focused))?.focus();
  text("tool-name", body.tool || "");
  hide("tool", !body.tool);
  hide("round", !body.can);
  hide("parts", !body.parts);
  $("parts").replaceChildren(...(body.parts || []).map(({ key, label, on }) => {
    const button = Object.assign(document.createElement("button"), { type: "button", className: "key", textContent: label });
    button.dataset.part = key;
    button.setAttribute("aria-pressed", String(Boolean(on)));
    return button;
  }));
  hide("other-side", !body.other);
  text("other-side", body.other ? `To its ${body.other.name}` : "");
  $("round").setAttribute("aria-pressed", String(Boolean(body.round)));
}

function drawSet(/** @type {View["set"]} */ set) {
  const key = JSON.stringify(set);
  if ($("set").dataset.drawn === key) return;
  $("set").dataset.drawn = key;
  text("set-label", set.label);
  const row = $("set-places");
  const places = (set.places || []).map((place) => `${place.outcome || "empty"}${place.paid ? "-paid" : ""}`);
  while (row.children.length > places.length) row.lastElementChild.remove();
  places.forEach((shape, i) => {
    const drawn = row.children[i];
    if (drawn && drawn.dataset.shape === shape) return; // most of a set stays as it was
    const node = shapes.get(shape).content.firstElementChild.cloneNode(true);
    node.dataset.shape = shape;
    if (drawn) drawn.replaceWith(node);
    else row.append(node);
  });
}

function drawVerdict(/** @type {View} */ v) {
  const shown = v.verdict.show;
  $("verdict").classList.toggle("invisible", !shown && !v.was);
  hide("verdict-word", !shown);
  if (!shown && v.was) text("verdict-why", v.was);
  if (shown) {
    text("verdict-word", v.verdict.word);
    text("verdict-why", [v.verdict.why, v.verdict.coverage, ""].filter((part, i) => part || i === 2).join(". ").trim());
  }
  const more = shown && v.verdict.more;
  if ($("reckoning").hidden === more) {
    hide("reckoning", !more);
    $("reckoning").open = false;
  }
}
