// Brings events to the server until it has them all. One tab sends at a time, for all of them; tabs
// tell each other when there is something to send and when it was sent. A failed request loses
// nothing: what waits stays in IndexedDB, and the page says how many.
const BATCH = 200; // events, as many as the server takes
const WEIGHT = 150000; // bytes; the server takes 256 KB
const SLOWEST = 20000; // ms between tries
const QUIET = 200; // ms without a press before sending begins, so that it does not slow down the next one
const LATEST = 600; // ms after the first press that waits to be sent

// What a server says that is there and saves nothing.
/** @type {Record<number, string>} */
const saying = { 503: "The server cannot save just now", 507: "The server’s disk is full" };

// savedLine says how it stands with what was logged here.
export function savedLine(/** @type {Sent} */ { waiting, refused, reachable, status }) {
  let line = refused.length ? "All else saved" : "All saved";
  if (waiting && status) line = `${saying[status] || `The server does not take it (${status})`} · ${waiting} kept here`;
  else if (waiting && !reachable) line = `No signal · ${waiting} kept here`;
  else if (waiting) line = `${waiting} not saved yet`;
  if (refused.length) line += ` · ${refused.length} refused: ${refused[0].why}`;
  return line;
}

export class Sender {
  constructor(/** @type {import("./db.js").Keep} */ keep, /** @type {(sent: Sent) => void} */ tell) {
    this.keep = keep;
    this.tell = tell; // ({ waiting, refused, reachable, status })
    this.reachable = true;
    this.status = 0; // what the server said instead of taking the last batch
    this.count = 0;
    /** @type {(LogEvent & { why: string })[]} */
    this.refused = [];
    this.logged = 0; // how often something was
    this.pause = 500;
    this.hurried = false;
    this.timer = 0;
    this.latest = 0; // when the first press that waits has to be sent, performance.now()
    this.wake = () => {};
    this.restored = () => {}; // the server was restored from a copy: its positions are others
    this.tabs = new BroadcastChannel("patientfox-sender");
    this.tabs.onmessage = ({ data }) => (data === "logged" ? this.hurry() : this.report());
    addEventListener("online", () => this.kick());
    if (navigator.locks) navigator.locks.request("patientfox-sender", () => this.loop());
    else this.loop();
    this.report();
  }

  // counts says that so many events were logged, before they are sent.
  counts(/** @type {number} */ logged) {
    this.logged += 1; // what is being counted now does not know of them
    this.show(this.count + logged);
  }

  // soon says that there is something to send, once presses pause.
  soon() {
    const at = performance.now();
    if (!this.timer) this.latest = at + LATEST;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.kick(), Math.max(0, Math.min(QUIET, this.latest - at)));
  }

  // kick says that there is something to send, or that it is worth trying again.
  kick() {
    clearTimeout(this.timer);
    this.timer = 0;
    this.hurry();
    this.tabs.postMessage("logged");
  }

  hurry() {
    this.pause = 500;
    this.hurried = true; // heard also by a loop that is not waiting yet
    this.wake();
  }

  async report() {
    let before;
    let found;
    do {
      before = this.logged;
      found = await Promise.all([this.keep.waiting(0), this.keep.refused()]);
    } while (before !== this.logged);
    this.refused = found[1];
    this.show(found[0].count);
  }

  show(/** @type {number} */ count) {
    this.count = count;
    this.tell({ waiting: count, refused: this.refused, reachable: this.reachable, status: this.status });
  }

  async loop() {
    for (;;) {
      let more = false;
      this.hurried = false;
      try {
        more = await this.send();
      } catch {
        this.reachable = false;
        this.pause = Math.min(this.pause * 2, SLOWEST);
      }
      await this.report();
      if (more) continue;
      const { count } = await this.keep.waiting(0);
      await this.rest(count);
    }
  }

  // rest waits until something is logged, or until a try that failed is worth another.
  rest(/** @type {number} */ count) {
    /** @type {Promise<void>} */
    const rested = new Promise((resolve) => {
      this.wake = resolve;
      if (this.hurried) resolve();
      else if (count) setTimeout(resolve, this.pause);
    });
    return rested;
  }

  // send posts one batch; it says whether there is more.
  async send() {
    const { count, events: oldest } = await this.keep.waiting(BATCH);
    if (!count) return false;
    const texts = [];
    let weight = 0;
    for (const event of oldest) {
      const text = JSON.stringify(event);
      weight += text.length > 1000 ? new Blob([text]).size : 3 * text.length; // at most three bytes a character
      if (weight > WEIGHT && texts.length) break;
      texts.push(text);
    }
    this.status = 0;
    const answer = await fetch("/api/events", {
      method: "POST",
      headers: { "Content-Type": "application/json", "X-Patient-Fox": "1", Accept: "application/json" },
      body: `{"events":[${texts.join()}]}`,
    });
    if (!answer.ok) {
      this.status = answer.status;
      throw new Error(String(answer.status)); // 401 and 403 too: the queue is kept
    }
    const { receipts, epoch } = await answer.json();
    await this.keep.settle(receipts);
    const anew = await this.keep.epoch(epoch);
    if (anew) this.restored();
    this.tabs.postMessage("sent");
    this.reachable = true;
    this.pause = 500;
    return anew || count > texts.length;
  }
}
