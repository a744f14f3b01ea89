// A class: the dogs of a meeting as tiles, each with a session of its own. A look at a dog is one tally of what was seen; what nobody
// saw is asked of nobody.
import { Core } from "./core.js";
import { Keep, uuid } from "./db.js";
import { register } from "./field.js";
import { load } from "./packs.js";
import { savedLine, Sender } from "./sender.js";
import { Tile } from "./tile.js";

const MANY = 8; // dogs on one device
const SEEN = 5; // trials that a look is of where nobody said otherwise
const MEETING = 12 * 3600 * 1000; // ms: no meeting goes on for so long
const OTHERS = 5000; // ms between two looks at which dogs other devices log

/** @returns {any} */
const $ = (/** @type {string} */ id) => document.getElementById(id);
const all = (/** @type {string} */ selector) => /** @type {any[]} */ ([...document.querySelectorAll(selector)]);
const shapes = new Map(all("template[data-shape]").map((t) => [t.dataset.shape, t]));
const id = new URLSearchParams(location.search).get("id") || "";
const placeID = uuid();

/** @type {Hall} */
const hall = {
  floor: null, core: null, keep: null, sender: null, device: "",
  inTurn, drawn: (tile) => tiles.get(tile.dog.id) === tile && draw(tile),
  where: (pack) => {
    const name = hall.floor.place;
    const known = (pack.places || []).find((/** @type {Option_} */ one) => one.name.toLowerCase() === name.toLowerCase());
    if (known || !name) return { place: known ? known.id : "" };
    return { place: "new", place_name: name, place_id: placeID };
  },
};

/** @type {Map<string, Tile>} */
const tiles = new Map(); // of the dogs of this device, by dog
let station = 0;
let since = 0; // performance.now() at which it was chosen
let chosen = ""; // the dog whose keys are shown
let seen = SEEN;

// Presses are answered one after another, whichever dog they are of.
let queue = Promise.resolve();
let waiting = 0; // of them
function inTurn(/** @type {() => Promise<any>} */ does) {
  $("run").dataset.pressed = String((waiting += 1));
  const done = queue.then(does);
  queue = done.catch(() => {}).then(() => { // whoever asked hears of it
    $("run").dataset.pressed = String((waiting -= 1));
  });
  return done;
}

function show(/** @type {string} */ one) {
  for (const part of ["message", "mine", "hall", "over"]) $(part).hidden = part !== one;
}

function message(/** @type {string} */ title, /** @type {string} */ text) {
  $("message-title").textContent = title;
  $("message-text").textContent = text;
  show("message");
}

function failed(/** @type {any} */ error) {
  $("trouble-text").textContent = error.name === "QuotaExceededError"
    ? "This device has no room left: the last press was not kept, all before it was. Free some space, then press again."
    : `That did not work, and nothing was changed by it. Try again. (${error.message})`;
  $("trouble").hidden = false;
}

// heard does something in turn; where it fails, that is said.
const heard = (/** @type {() => Promise<any>} */ does) => {
  $("trouble").hidden = true;
  return inTurn(does).catch(failed);
};

const plan = (/** @type {Tile} */ tile) => tile.dog.plans[station] || "";

function put(/** @type {any} */ node, /** @type {string} */ text) {
  if (node.textContent !== text) node.textContent = text;
}

// A button that becomes another one is written over in place.
function keys(/** @type {HTMLElement} */ row, /** @type {{ label: string, sub?: string, on?: boolean, data: Record<string, string>, style?: string, says?: string }[]} */ list) {
  while (row.children.length > list.length) row.lastElementChild?.remove();
  while (row.children.length < list.length) {
    const button = Object.assign(document.createElement("button"), { type: "button" });
    button.append(document.createElement("span"), document.createElement("small"));
    row.append(button);
  }
  list.forEach(({ label, sub = "", on, data, style = "key", says }, i) => {
    const button = /** @type {HTMLButtonElement} */ (row.children[i]);
    button.className = style;
    put(button.firstElementChild, label);
    put(button.lastElementChild, sub);
    for (const name of Object.keys(button.dataset)) if (!(name in data)) delete button.dataset[name];
    Object.assign(button.dataset, data);
    if (says) button.setAttribute("aria-label", says);
    else button.removeAttribute("aria-label");
    if (on === undefined) button.removeAttribute("aria-pressed");
    else button.setAttribute("aria-pressed", String(on));
  });
  row.hidden = !list.length;
}

// badge is what calls for a look at a dog, in a word.
function badge(/** @type {Tile} */ tile, /** @type {View | undefined} */ view) {
  if (tile.elsewhere) return "on another phone";
  const signs = tile.session && tile.view ? tile.view.signs.filter(({ on }) => on).map(({ name }) => name) : [];
  if (signs.length) return signs.join(", ");
  if (tile.view?.phase === "over") return "ended";
  return view?.verdict.show && tile.works(view.plan) ? view.verdict.word : "";
}

// draw draws one dog, and its keys where they are shown.
function draw(/** @type {Tile} */ tile) {
  const node = document.querySelector(`[data-dog="${tile.dog.id}"]`);
  const view = tile.face(plan(tile));
  if (node) {
    const [name, step, places, word] = /** @type {any} */ (node.children);
    put(name, tile.dog.name);
    put(step, view ? view.step : plan(tile) ? "not on this phone" : "nothing here");
    const drawn = view && tile.session ? (view.set.places || []).slice(-5).map(({ outcome }) => outcome || "empty") : [];
    if (places.dataset.drawn !== drawn.join()) {
      places.dataset.drawn = drawn.join();
      places.replaceChildren(...drawn.map((shape) => shapes.get(shape).content.cloneNode(true)));
    }
    const says = badge(tile, view);
    put(word, says);
    node.classList.toggle("calls", Boolean(tile.view?.signs.some(({ on }) => on) && tile.session));
    node.classList.toggle("away", tile.elsewhere);
    node.setAttribute("aria-pressed", String(tile.dog.id === chosen));
  }
  if (tile.dog.id === chosen) drawKeys(tile);
}

// drawKeys draws the keys of the dog that was touched.
function drawKeys(/** @type {Tile} */ tile) {
  const view = tile.face(plan(tile));
  const worked = tile.works(plan(tile));
  const open = Boolean(view && plan(tile)) && !tile.elsewhere && tile.view?.phase !== "over";
  put($("dog-name"), tile.dog.name);
  put($("dog-step"), view ? view.step : "");
  put($("dog-where"), view ? view.where : "This phone does not carry its plan: open Today once with a signal.");
  const verdict = worked && view.verdict.show ? `${view.verdict.word}. ${view.verdict.why}` : worked ? view.was || "" : "";
  put($("dog-says"), tile.said || (tile.elsewhere ? "" : verdict));
  $("dog-says").classList.toggle("font-semibold", Boolean(tile.said) || Boolean(worked && view.verdict.show));
  const idle = !worked || ["idle", "setup"].includes(view.phase);
  const most = open && idle ? view.count || 0 : 0;
  const of = Math.min(most, seen);
  $("look").hidden = !most;
  keys($("seen"), Array.from({ length: most }, (_, i) => ({ label: String(i + 1), on: i + 1 === of, data: { seen: String(i + 1) }, says: `${i + 1} seen` })));
  keys($("met"), most ? Array.from({ length: of + 1 }, (_, i) => ({ label: String(i), data: { met: String(i) }, style: "key tall", says: `${i} of ${of} met` })) : []);
  const row = open && worked && !most ? [...(view.beside || []), ...(view.row || [])].filter(({ key }) => !(view.off || []).includes(key)) : [];
  keys($("others"), row.map(({ key, label }) => ({ label, data: { press: key } })));
  const main = open && !most && (worked ? { ...view.main, data: { press: view.main.key } } : { label: "Begin", sub: "this dog’s work here", data: { begin: "yes" } });
  keys($("large"), main ? [{ label: main.label, sub: main.sub || "", data: /** @type {any} */ (main.data), style: "key tall" }] : []);
  for (const key of $("large").children) key.disabled = worked && view.rests;
  const signs = tile.session && tile.view ? tile.view.signs : view?.signs || [];
  keys($("signs"), open ? signs.map(({ sign, name, on }) => ({ label: name, on: Boolean(on && tile.session), data: { sign }, style: "key warn" })) : []);
  $("dog-undo").hidden = !open;
  $("dog-undo").disabled = !worked || (view.off || []).includes("undo");
  $("dog-alone").hidden = !worked || !tile.held;
  if (worked) $("dog-alone").href = `/run?plan=${tile.session.plan}&session=${tile.session.id}`;
  $("dog-take").hidden = !tile.elsewhere || tile.tab;
  put($("dog-elsewhere"), tile.tab ? "Another tab has it." : tile.elsewhere ? "Another phone logs this dog." : "");
}

function choose(/** @type {string} */ dog) {
  const before = tiles.get(chosen);
  chosen = dog;
  if (before) draw(before);
  const tile = tiles.get(dog);
  $("none").hidden = Boolean(tile);
  $("dog").hidden = !tile;
  if (tile) draw(tile);
}

function clockLine() {
  const one = hall.floor.stations[station];
  const gone = Math.floor((performance.now() - since) / 1000);
  put($("station-clock"), `${Math.floor(gone / 60)}:${String(gone % 60).padStart(2, "0")} of ${one.minutes} min`);
  $("station-clock").classList.toggle("font-bold", gone >= 60 * one.minutes);
}

async function at(/** @type {number} */ number) {
  station = number;
  since = performance.now();
  const one = hall.floor.stations[station];
  $("station").value = String(station);
  put($("station-aim"), `Meant by the end of this week: ${one.aim}`);
  clockLine();
  for (const tile of tiles.values()) {
    await tile.looks(plan(tile));
    tile.said = "";
    draw(tile);
  }
}

// others lists the dogs that this device does not have.
function others() {
  const list = hall.floor.dogs.filter((dog) => !tiles.has(dog.id) && dog.session);
  keys($("elsewhere"), list.map((dog) => ({ label: dog.name, data: { other: dog.id }, style: "btn small", says: `Take ${dog.name} from another phone` })));
  $("elsewhere-line").hidden = !list.length;
}

async function opens(/** @type {string[]} */ dogs) {
  for (const [dog, tile] of tiles) {
    if (!dogs.includes(dog) && !tile.session) tiles.delete(dog);
  }
  const packs = new Map((await hall.keep.all("packs")).map((/** @type {Pack} */ pack) => [pack.plan, pack]));
  const own = await hall.keep.all("sessions");
  for (const dog of hall.floor.dogs) {
    const session = own.find((/** @type {Session} */ s) => s.class === id && s.dog === dog.id && !s.ended);
    if (tiles.has(dog.id) || !(dogs.includes(dog.id) || session)) continue;
    const tile = new Tile(dog, hall);
    for (const one of dog.plans) if (packs.has(one)) tile.packs.set(one, packs.get(one));
    tiles.set(dog.id, tile);
    if (session) await tile.restore(session);
  }
  const nodes = [...tiles.values()].map((tile) => {
    const node = /** @type {any} */ ($("tile").content.cloneNode(true)).firstElementChild;
    node.dataset.dog = tile.dog.id;
    return node;
  });
  $("tiles").replaceChildren(...nodes);
  await hall.keep.put("meta", { name: `class:${id}`, floor: hall.floor, dogs: [...tiles.keys()] });
  await at(station);
  others();
  choose(tiles.has(chosen) ? chosen : "");
  show("hall");
}

// mine asks which dogs this device logs.
function mine() {
  const running = (/** @type {FloorDog} */ dog) => Boolean(dog.session) && !tiles.get(dog.id)?.session;
  let ticked = 0;
  $("mine-dogs").replaceChildren(...hall.floor.dogs.map((dog) => {
    const label = /** @type {any} */ ($("mine-dog").content.cloneNode(true)).firstElementChild;
    const [box, name, sub] = label.children;
    box.value = dog.id;
    box.checked = tiles.size ? tiles.has(dog.id) : !dog.missing && !running(dog) && ticked < MANY;
    box.disabled = Boolean(tiles.get(dog.id)?.session);
    ticked += Number(box.checked);
    put(name, dog.name);
    put(sub, running(dog) ? "on another phone" : dog.missing ? "not here, as was said" : "");
    return label;
  }));
  put($("mine-problem"), "");
  show("mine");
  $("mine-title").focus();
}

async function carried() {
  const day = await hall.keep.get("meta", "field");
  const own = await hall.keep.get("meta", `class:${id}`);
  return (day && (day.classes || []).find((/** @type {Floor} */ one) => one.id === id)) || (own && own.floor);
}

const SOON = 5000; // ms in which a plan that is just being read is there

// fetched is the meeting with its packs, from the server or as this device carries it. A plan that was worked just now is being read: the
// server is asked again for a moment.
async function fetched() {
  const until = performance.now() + SOON;
  const kept = Boolean(await carried());
  try {
    for (;;) {
      const { packs, ...floor } = await load(`/api/classes/${id}`, kept);
      for (const pack of packs || []) await hall.keep.newest(pack, true);
      const known = new Set((await hall.keep.all("packs")).map((/** @type {Pack} */ pack) => pack.plan));
      const all = floor.dogs.every((/** @type {FloorDog} */ dog) => dog.plans.every((plan) => !plan || known.has(plan)));
      if (all || performance.now() > until) return floor;
      await new Promise((done) => setTimeout(done, 250));
    }
  } catch (error) {
    if (error.status && error.status < 500) throw error;
    return carried();
  }
}

async function look() {
  try {
    if (!document.hidden && !$("hall").hidden) {
      const floor = await load(`/api/classes/${id}/floor`);
      for (const dog of floor.dogs) {
        const known = hall.floor.dogs.find((one) => one.id === dog.id);
        if (known) known.session = dog.session;
        const tile = tiles.get(dog.id);
        if (tile && !tile.session && tile.away !== dog.session) {
          tile.away = dog.session;
          draw(tile);
        }
      }
      others();
    }
  } catch {
    // without a signal nothing is known of other phones
  }
  setTimeout(look, OTHERS);
}

async function end() {
  const lines = [];
  for (const tile of tiles.values()) {
    if (!tile.session) continue;
    const mine = tile.held;
    await tile.ends();
    const li = document.createElement("li");
    const strong = Object.assign(document.createElement("strong"), { textContent: tile.dog.name });
    li.append(strong, ` ${mine ? tile.view.closing.summary : "is logged on another phone."}`);
    lines.push(li);
  }
  $("over-list").replaceChildren(...lines);
  $("over-none").hidden = Boolean(lines.length);
  $("over-class").href = `/classes/${id}`;
  tiles.clear();
  show("over");
  $("over-title").focus();
}

// chosenKey is what a key of the dog that was touched means.
function chosenKey(/** @type {DOMStringMap} */ data) {
  const tile = tiles.get(chosen);
  if (!tile) return;
  if (data.seen) {
    seen = Number(data.seen);
    drawKeys(tile);
  } else if (data.met) {
    const look = { seen: all("#met .key").length - 1, met: Number(data.met) };
    heard(async () => (await tile.ready(plan(tile))) && tile.press("seen", look));
  } else if (data.sign) heard(async () => (await tile.ready(plan(tile))) && tile.press("sign", data.sign));
  else if (data.press) heard(() => tile.press("press", data.press));
  else if (data.begin) heard(() => tile.ready(plan(tile)));
}

function listen() {
  document.addEventListener("click", ({ target }) => {
    const button = target instanceof Element ? target.closest("button") : null;
    if (!button) return;
    const { dog, other } = button.dataset;
    if (dog) choose(dog);
    else if (other) takes(other);
    else chosenKey(button.dataset);
  });
  const many = hall.floor.stations.length;
  $("station").addEventListener("change", () => heard(() => at(Number($("station").value))));
  $("station-before").addEventListener("click", () => heard(() => at((station + many - 1) % many)));
  $("station-next").addEventListener("click", () => heard(() => at((station + 1) % many)));
  $("dog-undo").addEventListener("click", () => heard(() => tiles.get(chosen).press("press", "undo")));
  $("dog-take").addEventListener("click", () => takes(chosen));
  $("mine-open").addEventListener("click", () => {
    const dogs = all("#mine-dogs input:checked").map((box) => box.value);
    const wrong = !dogs.length ? "Choose at least one dog." : dogs.length > MANY ? `At most ${MANY} dogs on one phone: another one takes the others.` : "";
    put($("mine-problem"), wrong);
    if (!wrong) heard(() => opens(dogs));
  });
  $("dogs").addEventListener("click", mine);
  $("end").addEventListener("click", () => heard(end));
  document.addEventListener("keydown", keyed);
}

// keyed reads a keyboard: a digit is what was met of what was seen, arrows go from tile to tile, space on a tile is the large
// key, Z takes back.
function keyed(/** @type {KeyboardEvent} */ event) {
  if ($("hall").hidden || event.ctrlKey || event.metaKey || event.altKey || document.activeElement === $("station")) return;
  const list = all("[data-dog]");
  const by = /** @type {Record<string, number>} */ ({ ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 })[event.key];
  if (by && list.length) {
    const now = list.findIndex((node) => node.dataset.dog === chosen);
    const next = list[(Math.max(now, by < 0 ? 0 : -1) + by + list.length) % list.length];
    next.focus();
    choose(next.dataset.dog);
    event.preventDefault();
  } else if (event.key === " " && document.activeElement?.closest("[data-dog]") && $("large").firstElementChild) {
    $("large").firstElementChild.click();
    event.preventDefault();
  } else if (/^\d$/.test(event.key)) $("met").querySelector(`[data-met="${event.key}"]`)?.click();
  else if (event.key.toLowerCase() === "z" && !$("dog-undo").disabled) $("dog-undo").click();
}

// takes brings a dog here from another phone.
function takes(/** @type {string} */ dog) {
  return heard(async () => {
    if (!tiles.has(dog)) {
      if (tiles.size >= MANY) throw new Error(`one phone has at most ${MANY} dogs`);
      await opens([...tiles.keys(), dog]);
    }
    const tile = tiles.get(dog);
    await tile.takes();
    await tile.looks(plan(tile));
    others();
    choose(dog);
  });
}

function told(/** @type {Sent} */ sent) {
  for (const node of all("[data-saved]")) put(node, savedLine(sent));
  for (const link of all("[data-refused]")) link.hidden = !sent.refused.length;
  $("run").dataset.waiting = String(sent.waiting);
}

// forgotten ends what an earlier meeting left open, where its last event was.
async function forgotten() {
  for (const session of await hall.keep.all("sessions")) {
    const dog = hall.floor.dogs.find((one) => one.id === session.dog);
    if (session.class !== id || session.ended || !dog || Date.now() - session.wall < MEETING) continue;
    const tile = new Tile({ ...dog, session: "" }, hall);
    await tile.restore(session, true);
    await tile.ends();
  }
}

async function start() {
  register().catch(() => {});
  const { wasm, exec } = $("run").dataset;
  if (!wasm) return message("The core is missing", "This program was built without its browser part. Build it with make, then open this page again.");
  try {
    hall.keep = await Keep.open();
    hall.keep.persist();
    hall.device = await hall.keep.device();
  } catch (error) {
    return message("This browser keeps nothing", `A session needs a place to keep its log until the server has it. A private window may not have one. (${error.message})`);
  }
  hall.sender = new Sender(hall.keep, told);
  hall.core = new Core({ worker: "/run/worker.js", exec, wasm });
  const floor = await fetched().catch((error) => message("This class cannot be run", error.message));
  if (floor === undefined) return $("message-title").textContent === "Opening…" && message("No signal", "This meeting has not been loaded on this phone yet. Open Today once with a signal on its day.");
  hall.floor = floor;
  put($("class-name"), floor.name);
  put($("class-week"), `Week ${floor.week}`);
  document.title = `${floor.name} · Patient Fox`;
  if (!floor.stations.length || !floor.dogs.length) return message("Nothing is worked in this week", "The programme has no skill for it, or no dog is in the class.");
  $("station").replaceChildren(...hall.floor.stations.map(({ skill }, i) => new Option(`${i + 1} ${skill}`, String(i))));
  listen();
  setInterval(clockLine, 1000);
  await forgotten();
  const own = (await hall.keep.all("sessions")).filter((/** @type {Session} */ s) => s.class === id && !s.ended);
  const before = own.length ? await hall.keep.get("meta", `class:${id}`) : null;
  if (before) await heard(() => opens(before.dogs));
  else mine();
  look();
  $("run").dataset.ready = "yes";
}

start().catch((error) => message("This page has to be opened anew", `What was logged is kept on this device. (${error.message})`));
