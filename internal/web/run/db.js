// What the phone keeps until the server has it: events, sessions and packs, in IndexedDB.
const NAME = "patientfox";
const WEEK = 7 * 24 * 3600 * 1000; // ms
const UNWRITTEN = "patientfox-unwritten-"; // what is noted until it is written begins so
const MONTH = 30 * 24 * 3600 * 1000; // ms: as long a device holds what the server has

/** @param {IDBRequest} request @returns {Promise<any>} what it found */
function done(request) {
  return new Promise((resolve, reject) => {
    request.onsuccess = () => resolve(request.result);
    request.onerror = () => reject(request.error);
  });
}

/** @param {IDBTransaction} tx @returns {Promise<void>} */
function finished(tx) {
  return new Promise((resolve, reject) => {
    tx.oncomplete = () => resolve();
    tx.onabort = tx.onerror = () => reject(tx.error || new Error("could not be kept"));
  });
}

// runLock names the lock of the tab that runs a session.
export const runLock = (/** @type {string} */ session) => `patientfox-run-${session}`;

// noting does something with the notes, where the browser allows any; without them events are still written as usual.
/** @template T @param {(notes: Storage) => T} does @returns {T | undefined} */
function noting(does) {
  try {
    return does(localStorage);
  } catch {
    return undefined; // no room, or not allowed
  }
}

// logged is the order in which one device logged.
const logged = (/** @type {LogEvent} */ a, /** @type {LogEvent} */ b) => a.wall - b.wall || a.seq - b.seq;

const hex = Array.from({ length: 256 }, (_, byte) => byte.toString(16).padStart(2, "0"));

// A UUIDv7: made where it happens, an identity and never an order.
export function uuid() {
  const ms = Date.now().toString(16).padStart(12, "0");
  const bytes = crypto.getRandomValues(new Uint8Array(10));
  bytes[0] = (bytes[0] & 0x0f) | 0x70;
  bytes[2] = (bytes[2] & 0x3f) | 0x80;
  const chance = Array.from(bytes, (byte) => hex[byte]).join("");
  return `${ms.slice(0, 8)}-${ms.slice(8)}-${chance.slice(0, 4)}-${chance.slice(4, 8)}-${chance.slice(8)}`;
}

export class Keep {
  /** @param {IDBDatabase} db */
  constructor(db) {
    this.db = db;
    this.dev = ""; // this device
    this.seq = 0; // the last number it gave an event
  }

  static async open() {
    const request = indexedDB.open(NAME, 1);
    request.onupgradeneeded = () => {
      const db = request.result;
      const events = db.createObjectStore("events", { keyPath: "id" });
      events.createIndex("session", "session");
      events.createIndex("waiting", "waiting"); // 1 until the server has it
      db.createObjectStore("sessions", { keyPath: "id" });
      db.createObjectStore("packs", { keyPath: "plan" });
      db.createObjectStore("meta", { keyPath: "name" });
    };
    return new Keep(await done(request));
  }

  // persist asks the browser not to throw the log away when space is short.
  persist() {
    if (navigator.storage && navigator.storage.persist) navigator.storage.persist().catch(() => {});
  }

  // device is this browser's own name, made once.
  async device() {
    const tx = this.db.transaction("meta", "readwrite");
    const meta = tx.objectStore("meta");
    let row = await done(meta.get("device"));
    if (!row) {
      row = { name: "device", id: uuid(), seq: 0 };
      meta.put(row);
    }
    await finished(tx);
    this.dev = row.id;
    this.seq = row.seq;
    await this.recover();
    return row.id;
  }

  // envelope is what makes events of up to so many drafts that are not known yet.
  envelope(/** @type {Stamp} */ { session, t, by, handler }, /** @type {number} */ most) {
    return { session, dev: this.dev, seq: this.seq, t, wall: Date.now(), by, handler, ids: Array.from({ length: most }, uuid) };
  }

  // stamp makes drafts events of this device. Their sequence numbers are the ones that store will find free, unless
  // another tab takes them first.
  stamp(/** @type {Draft[]} */ drafts, /** @type {Stamp} */ { session, t, by, handler }) {
    const wall = Date.now();
    return drafts.map(({ kind, data }) => ({ v: 1, id: uuid(), session, dev: this.dev, seq: ++this.seq, t, wall, by, handler, kind, data }));
  }

  // store keeps stamped events. The sequence numbers are taken in the same transaction; it says whether they had to
  // be other ones than those stamped. A page that is left meanwhile takes its transaction with it: until that is through, the
  // events are noted where a page that is left can still write at once, and the next page keeps them.
  async store(/** @type {LogEvent[]} */ events) {
    const name = UNWRITTEN + events[0].id;
    noting((notes) => notes.setItem(name, JSON.stringify(events)));
    try {
      return await this.write(events);
    } finally {
      noting((notes) => notes.removeItem(name));
    }
  }

  // recover keeps what was noted and not written, when its page was left too soon; it says how many events that was. What a session
  // notes that runs in another tab is being written there: only the tab that runs it, mine, is sure that nobody does.
  async recover(mine = "") {
    const held = navigator.locks ? ((await navigator.locks.query()).held || []).map((lock) => lock.name) : [];
    let n = 0;
    for (const name of noting((notes) => Object.keys(notes).filter((key) => key.startsWith(UNWRITTEN))) || []) {
      /** @type {LogEvent[]} */
      const events = JSON.parse(noting((notes) => notes.getItem(name)) || "[]");
      const session = events.length ? events[0].session : "";
      if (session !== mine && held.includes(runLock(session))) continue;
      const found = this.db.transaction("events").objectStore("events");
      const kept = await Promise.all(events.map(({ id }) => done(found.count(id))));
      const lost = events.filter((_, i) => !kept[i]);
      if (lost.length) await this.write(lost);
      noting((notes) => notes.removeItem(name));
      n += lost.length;
    }
    return n;
  }

  // write is the transaction of store.
  async write(/** @type {LogEvent[]} */ events) {
    const tx = this.db.transaction(["meta", "events"], "readwrite", { durability: "strict" });
    const kept = finished(tx);
    kept.catch(() => {}); // it is waited for below
    const row = await done(tx.objectStore("meta").get("device"));
    const others = events[0].seq !== row.seq + 1;
    for (const event of events) {
      event.seq = ++row.seq;
      tx.objectStore("events").put({ ...event, waiting: 1 });
    }
    tx.objectStore("meta").put(row);
    if (others) this.seq = row.seq;
    await kept;
    return others;
  }

  // take keeps what other devices logged; the server has it.
  async take(/** @type {LogEvent[]} */ events) {
    const tx = this.db.transaction("events", "readwrite");
    const store = tx.objectStore("events");
    for (const event of events) store.put(event);
    await finished(tx);
  }

  async eventsOf(/** @type {string} */ session) {
    const tx = this.db.transaction("events");
    const rows = await done(tx.objectStore("events").index("session").getAll(session));
    return rows.map(bare);
  }

  // waiting lists what the server does not have yet, oldest first.
  async waiting(/** @type {number} */ most) {
    const index = this.db.transaction("events").objectStore("events").index("waiting");
    const [count, rows] = await Promise.all([done(index.count(1)), most ? done(index.getAll(1, most)) : []]);
    rows.sort(logged); // they come by id, which begins with the time
    return { count, events: rows.map(bare) };
  }

  async refused() {
    const tx = this.db.transaction("events");
    return (await done(tx.objectStore("events").index("waiting").getAll(2))).sort(logged);
  }

  // again sends what was refused once more: the server may know better by now.
  async again(/** @type {string[]} */ ids) {
    const tx = this.db.transaction("events", "readwrite");
    const store = tx.objectStore("events");
    for (const id of ids) {
      const row = await done(store.get(id));
      delete row.why;
      store.put({ ...row, waiting: 1 });
    }
    await finished(tx);
  }

  // letGo drops what was refused, for good.
  async letGo(/** @type {string[]} */ ids) {
    const tx = this.db.transaction("events", "readwrite");
    for (const id of ids) tx.objectStore("events").delete(id);
    await finished(tx);
  }

  // settle forgets to send what the server has; what it refused stays, with the reason.
  async settle(/** @type {Receipt[]} */ receipts) {
    const tx = this.db.transaction("events", "readwrite");
    const store = tx.objectStore("events");
    for (const receipt of receipts) {
      const asked = store.get(receipt.id);
      asked.onsuccess = () => {
        const row = asked.result;
        if (!row) return;
        if (receipt.result === "stored" || receipt.result === "duplicate") {
          delete row.waiting;
          delete row.why;
        } else {
          row.waiting = 2;
          row.why = receipt.why;
        }
        store.put(row);
      };
    }
    await finished(tx);
  }

  // epoch takes the name of the server's database. Where it is another than before, the database was restored from a copy:
  // all that this device still holds is sent again, and positions in the server's log are forgotten. It says whether it was.
  async epoch(/** @type {string} */ name) {
    if (!name) return false;
    const tx = this.db.transaction(["meta", "events", "sessions"], "readwrite");
    const meta = tx.objectStore("meta");
    const known = await done(meta.get("epoch"));
    const anew = Boolean(known) && known.is !== name;
    meta.put({ name: "epoch", is: name });
    if (anew) {
      for (const row of await done(tx.objectStore("events").getAll())) {
        if (!row.waiting) tx.objectStore("events").put({ ...row, waiting: 1 });
      }
      for (const session of await done(tx.objectStore("sessions").getAll())) {
        if (session.seen) tx.objectStore("sessions").put({ ...session, seen: 0 });
      }
    }
    await finished(tx);
    return anew;
  }

  // tidy drops sessions that ended a month ago and that the server has whole. Until then they are held for a server that is
  // restored from a copy.
  async tidy() {
    const old = (await this.all("sessions")).filter((/** @type {Session} */ s) => s.ended && s.wall < Date.now() - MONTH);
    for (const session of old) {
      const tx = this.db.transaction(["sessions", "events"], "readwrite");
      const rows = await done(tx.objectStore("events").index("session").getAll(session.id));
      if (!rows.some((/** @type {any} */ row) => row.waiting)) {
        for (const row of rows) tx.objectStore("events").delete(row.id);
        tx.objectStore("sessions").delete(session.id);
      }
      await finished(tx);
    }
  }

  // behind tells whether a server's pack has not read yet what this device logged in the session that left its own: the
  // device's stands until then, or for a week.
  async behind(/** @type {IDBTransaction} */ tx, /** @type {any} */ own, /** @type {Pack} */ pack) {
    if (!own || !own.left || own.at < Date.now() - WEEK) return false;
    const rows = await done(tx.objectStore("events").index("session").getAll(own.left));
    const device = await done(tx.objectStore("meta").get("device"));
    const read = (((pack && pack.read) || {})[own.left] || {})[device && device.id] || 0;
    return rows.some((/** @type {any} */ row) => row.waiting === 1 || (row.waiting !== 2 && device && row.dev === device.id && row.seq > read));
  }

  // carry puts the day's packs by in place of those before, but for those that are behind what this device left.
  async carry(/** @type {{ day: string, packs: Pack[], sheets: Sheet[], classes?: Floor[] }} */ day) {
    const tx = this.db.transaction(["packs", "meta", "events"], "readwrite");
    const packs = tx.objectStore("packs");
    const at = Date.now();
    const coming = new Map(day.packs.map((pack) => [pack.plan, pack]));
    const looked = new Map();
    for (const old of await done(packs.getAll())) {
      looked.set(old.plan, old.looked);
      if (await this.behind(tx, old, coming.get(old.plan))) coming.delete(old.plan);
      else if (!coming.has(old.plan) && !(old.looked > at - WEEK)) packs.delete(old.plan);
    }
    for (const pack of coming.values()) packs.put({ ...pack, at, looked: looked.get(pack.plan) || 0 });
    tx.objectStore("meta").put({ name: "field", at, day: day.day, sheets: day.sheets, classes: day.classes });
    await finished(tx);
  }

  // newest is the pack to run: the server's, unless a session on this device left one that it does not know yet. It is
  // carried until the day's packs come, or for a week where its plan was looked at.
  async newest(/** @type {Pack} */ pack, looked = false) {
    const tx = this.db.transaction(["packs", "events", "meta"]);
    const own = await done(tx.objectStore("packs").get(pack.plan));
    if (await this.behind(tx, own, pack)) return own;
    const at = Date.now();
    const fresh = { ...pack, at, looked: looked ? at : (own && own.looked) || 0 };
    await this.put("packs", fresh);
    return fresh;
  }

  async put(/** @type {string} */ store, /** @type {any} */ row) {
    const tx = this.db.transaction(store, "readwrite");
    tx.objectStore(store).put(row);
    await finished(tx);
  }

  async get(/** @type {string} */ store, /** @type {string} */ key) {
    return done(this.db.transaction(store).objectStore(store).get(key));
  }

  async all(/** @type {string} */ store) {
    return done(this.db.transaction(store).objectStore(store).getAll());
  }
}

// bare is an event as it was logged, without what this device notes about its sending.
function bare(/** @type {any} */ row) {
  const event = { ...row };
  delete event.waiting;
  delete event.why;
  return event;
}
