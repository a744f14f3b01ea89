// One dog of a class: its session, behind a door of its own to the core, and what it shows.
import { Beside, join } from "./beside.js";
import { runLock, uuid } from "./db.js";
import { dated, load } from "./packs.js";
import { clock } from "./state.js";

const MOST = 16; // events that one press leads to; more of them take a second way to the core
const OTHERS = 3000; // ms between two looks at what another device logged of the dog
const RESTS = 250; // ms between two looks at whether the large key takes presses again
const LETS_GO = 700; // ms until a page that was left has let go of the session

// mainOf is who handles the dog in a class: the plan's main handler, while they are there.
const mainOf = (/** @type {Pack} */ pack) => ((pack.people || []).some((/** @type {Option_} */ one) => one.id === pack.main) ? pack.main : pack.person);

export class Tile {
  /** @param {FloorDog} dog @param {Hall} hall */
  constructor(dog, hall) {
    this.dog = dog;
    this.hall = hall;
    /** @type {Map<string, Pack>} */
    this.packs = new Map(); // by plan
    /** @type {Map<string, View>} */
    this.views = new Map(); // by plan: what was shown of it last
    /** @type {Session | null} */
    this.session = null;
    this.base = 0; // performance.now() at its session's zero
    /** @type {View | null} */
    this.view = null;
    this.away = dog.session; // the session that another device runs, "" for none
    this.tab = false; // another tab has it
    this.said = ""; // why the last press did nothing
    this.free = () => {};
  }

  now() {
    return this.session ? Math.max(0, Math.round(performance.now() - this.base)) : 0;
  }

  ask(/** @type {string} */ method, /** @type {any} */ arg = null, at = this.now()) {
    return this.hall.core.ask(method, arg, at, undefined, undefined, this.dog.id);
  }

  // held tells whether this device logs the dog.
  get held() {
    return Boolean(this.session && this.view && !this.view.helps && !this.tab && this.view.phase !== "over");
  }

  // elsewhere tells whether somebody else does.
  get elsewhere() {
    return this.tab || Boolean(this.view && this.view.helps) || (!this.session && Boolean(this.away));
  }

  // works tells whether a plan is what its session works now.
  works(/** @type {string} */ plan) {
    return Boolean(this.session && this.view && this.view.plan === plan);
  }

  // face is what is shown of one of its plans.
  face(/** @type {string} */ plan) {
    return this.view && this.view.plan === plan ? this.view : this.views.get(plan);
  }

  // looks opens a plan without beginning it, so that its step can be shown.
  async looks(/** @type {string} */ plan) {
    const pack = this.packs.get(plan);
    if (!pack || this.face(plan)) return;
    const { view } = await this.hall.core.ask("open", dated(pack), 0, undefined, undefined, `${this.dog.id}/${plan}`);
    this.views.set(plan, view);
  }

  shows(/** @type {View} */ view) {
    this.view = view;
    this.views.set(view.plan, view);
    this.hall.drawn(this);
    if (!view.rests) return;
    const { session } = this;
    setTimeout(() => this.hall.inTurn(async () => this.session === session && this.view.rests && this.shows((await this.ask("view")).view)), RESTS);
  }

  stamp(/** @type {number} */ t) {
    return { session: this.session.id, t, by: this.session.by, handler: this.session.handler };
  }

  // log keeps drafts, and shows what they lead to.
  async log(/** @type {Draft[]} */ drafts, t = this.now()) {
    if (!drafts || !drafts.length) return;
    const events = this.hall.keep.stamp(drafts, this.stamp(t));
    await this.keeps(events, this.hall.core.ask("apply", events, t, undefined, undefined, this.dog.id), this.hall.keep.store(events));
  }

  async keeps(/** @type {LogEvent[]} */ events, /** @type {Promise<Answer>} */ applied, /** @type {Promise<boolean>} */ kept) {
    kept.catch(() => {}); // it is waited for below
    try {
      const { view } = await applied;
      this.hall.sender.counts(events.length);
      this.shows(view);
      if (await kept) await this.reread(); // another tab took the numbers
      this.hall.sender.soon();
    } catch (error) {
      await this.reread(); // what is not kept is not shown as logged
      this.hall.sender.report();
      throw error;
    }
  }

  // press asks the core what something leads to, and keeps it: one way there and back.
  async press(/** @type {string} */ method, /** @type {any} */ arg) {
    const t = this.now();
    /** @type {LogEvent[] | undefined} */
    let events;
    /** @type {Promise<boolean> | undefined} */
    let kept;
    const answer = await this.hall.core.ask(method, arg, t, this.hall.keep.envelope(this.stamp(t), MOST), (made) => {
      events = made;
      this.hall.keep.seq += made.length;
      kept = this.hall.keep.store(made);
      kept.catch(() => {});
    }, this.dog.id);
    this.said = answer.problem ? answer.problem.text : "";
    if (answer.problem) return this.hall.drawn(this);
    if (events) await this.keeps(events, Promise.resolve(answer), kept);
    else await this.log(answer.drafts, t);
  }

  // ready begins what is worked at a station, where it is not what is worked already; it says whether it is now.
  async ready(/** @type {string} */ plan) {
    if (this.works(plan)) return true;
    const pack = this.packs.get(plan);
    const handler = mainOf(pack);
    const choice = { ...this.hall.where(pack), class: this.hall.floor.id, mode: "train", handler };
    this.said = "";
    if (!this.session) {
      await this.ask("open", dated(pack));
      const { drafts, problem } = await this.ask("begin", choice);
      if (problem) return this.refuses(problem);
      this.session = { id: uuid(), class: this.hall.floor.id, dog: this.dog.id, plan, packs: [pack], by: pack.person, handler, wall: Date.now() };
      this.base = performance.now();
      await this.hall.keep.put("sessions", this.session);
      await this.ask("device", this.hall.device);
      await this.log(drafts, 0);
      this.holds();
      return true;
    }
    const tags = this.view.closing.tags;
    await this.log((await this.ask("close", { unlogged: "", left: "", next: "", reason: "", tags, take: false, end: false, leave: true })).drafts);
    await this.ask("renew", dated(pack));
    const { drafts, problem } = await this.ask("begin", choice);
    if (problem) {
      await this.reread(); // which goes on with what was worked before
      return this.refuses(problem);
    }
    Object.assign(this.session, { plan, handler, packs: [...this.session.packs, pack] });
    await this.hall.keep.put("sessions", this.session);
    await this.log(drafts);
    return true;
  }

  refuses(/** @type {Problem} */ problem) {
    this.said = problem.text;
    this.hall.drawn(this);
    return false;
  }

  // reread reads the session anew from what is kept.
  async reread() {
    const [first, ...later] = this.session.packs;
    await this.ask("open", dated(first), 0);
    for (const pack of later) await this.ask("renew", dated(pack), 0);
    await this.ask("device", this.hall.device, 0);
    const events = await this.hall.keep.eventsOf(this.session.id);
    this.shows((await this.ask("apply", events)).view);
  }

  // restore goes on with a session that this device began; one of an earlier meeting stands where its last event was.
  async restore(/** @type {Session} */ session, earlier = false) {
    this.session = session;
    this.away = "";
    await this.hall.keep.recover();
    const events = await this.hall.keep.eventsOf(session.id);
    this.base = earlier ? performance.now() - Math.max(0, ...events.map((/** @type {LogEvent} */ event) => event.t)) : clock(session, events);
    await this.reread();
    if (session.aside) {
      session.aside = false;
      await this.hall.keep.put("sessions", session);
    }
    this.holds();
  }

  // holds keeps other tabs off the session, and looks at what other devices log in it.
  holds() {
    const { session } = this;
    if (navigator.locks) {
      const held = () => new Promise((resolve) => (this.free = () => resolve(undefined)));
      navigator.locks.request(runLock(session.id), { signal: AbortSignal.timeout(LETS_GO) }, held).catch(() => {
        this.tab = true;
        this.hall.drawn(this);
      });
    }
    this.beside = new Beside({
      keep: this.hall.keep, session, device: this.hall.device, every: OTHERS, gone: () => {},
      came: (/** @type {LogEvent[]} */ events) => this.hall.inTurn(async () => {
        if (this.session === session) this.shows((await this.ask("apply", events)).view);
      }),
    });
  }

  // takes brings the dog here from the device that logs it.
  async takes() {
    if (this.session && this.view.helps) return this.press("press", "pen");
    const { joined, base } = await join(load, this.away);
    if (joined.ended) throw new Error("it is over");
    const at = Date.now();
    const packs = joined.packs.map((/** @type {Pack} */ pack) => ({ ...pack, at }));
    this.session = { id: this.away, class: this.hall.floor.id, dog: this.dog.id, plan: joined.plan, packs, by: packs[0].person, handler: mainOf(packs[0]), wall: at, seen: 0 };
    for (let more = true; more; ) {
      const { events, at: seen } = await load(`/api/sessions/${this.away}/events?after=${this.session.seen}`);
      more = Boolean(events && events.length);
      if (more) await this.hall.keep.take(events);
      this.session.seen = seen;
    }
    this.base = base;
    this.away = "";
    await this.hall.keep.put("sessions", this.session);
    await this.reread();
    this.holds();
    await this.log([{ kind: "join", data: { offset: 0 } }]);
    await this.press("press", "pen");
  }

  // ends closes the session where this device logs it, and puts by how it left its plans.
  async ends() {
    if (!this.session) return;
    if (this.held) {
      const { tags } = this.view.closing;
      await this.log((await this.ask("close", { unlogged: "", left: "", next: "", reason: "time", tags, take: false, end: true, leave: false })).drafts);
      const { packs } = await this.ask("after");
      for (const pack of packs || []) await this.hall.keep.put("packs", { ...pack, at: Date.now(), left: this.session.id });
    }
    this.beside?.stop();
    this.session.ended = true;
    await this.hall.keep.put("sessions", this.session);
    this.free();
  }
}
