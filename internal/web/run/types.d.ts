// What the scripts of the Run screen hand to each other. The core's own shapes are in core/screen, core/pack and core/record; here are
// the fields that a script reads.

interface Button { key: string; label: string; sub?: string; shape?: string; kbd?: string; on?: boolean }
interface Option_ { id: string; name: string; known?: boolean }
interface Problem { field: string; text: string }
interface Draft { kind: string; data: any }

interface LogEvent extends Draft {
  v: number; id: string; session: string; dev: string; seq: number; t: number; wall: number; by: string; handler: string;
}

// Stamp is what the events of one moment share; an Envelope has an id for each.
interface Stamp { session: string; t: number; by: string; handler: string }
interface Envelope extends Stamp { dev: string; seq: number; wall: number; ids: string[] }

interface Setting { key: string; label: string; value: string; other: boolean; list?: boolean }

interface Site { name: string; at?: boolean; next?: boolean; shape?: string; mark?: string; over?: boolean; says: string }

interface View {
  phase: string; on_cue?: boolean; asks?: boolean; between?: boolean; plan: string; dog: string; skill: string; step: string; where: string; target: string;
  dial: { big: string; of: string; part: number; full: boolean; slow: boolean; live: boolean };
  pay: { word: string; since: string; next: string; food: string; gone: string; due: boolean; gap: number; key: string; hand: string; turn: string };
  way?: string;
  set: { label: string; places: { outcome: string; paid: boolean }[] };
  verdict: { show: boolean; word: string; why: string; coverage: string; more: boolean; others: Button[] };
  main: Button; rests: boolean; off: string[]; row: Button[]; beside: Button[]; caution?: string;
  advice: { line: string; urgent: boolean; rest: boolean; finish: boolean };
  recover: { say: string; then: string };
  body?: { sites: Site[]; right?: boolean; tool?: string; round?: boolean; can?: boolean; says?: string; other?: Option_; parts?: Button[] };
  count?: number; signs: { sign: string; name: string; on: boolean }[];
  log: string; food: string; roles: Record<string, string | undefined>; tells?: string; last?: string; was?: string; worked?: Setting[]; once?: boolean; after?: Button[][]; arousal?: Button[]; help?: boolean; moves?: string; lined?: boolean; states?: Button[]; helps?: string; leave?: string; ends?: string;
  closing: { logged: string; pieces: string; left: string; waiting: string; tags: string; reason: string; summary: string; next: string };
  sheet: { line: string; done: boolean; next: string; parts?: Part[] };
}

interface Part { plan: string; name: string; step: string; mode?: string; finish?: boolean; first?: boolean }
interface Setup { [field: string]: any }
interface Pack { v: number; plan: string; dog_name: string; skill_name: string; at?: number; today?: string; [field: string]: any }
interface Sheet { id: string; day: string; at: number; names: { [plan: string]: string }; pieces: number; plan: any; place: string; handler: string }

interface Session {
  id: string; plan: string; packs: Pack[]; all?: Pack[]; by: string; handler: string; wall: number; ended?: boolean; seen?: number; sheet?: Sheet;
  aside?: boolean; // left for another session on this device
  [field: string]: any;
}

// A class on this device: the meeting, its dogs, and what they share.
interface FloorDog { id: string; name: string; plans: string[]; missing: boolean; session: string }
interface Floor { id: string; name: string; week: number; day: string; place: string; stations: { skill: string; aim: string; minutes: number }[]; dogs: FloorDog[] }
interface Hall {
  floor: Floor; core: import("./core.js").Core; keep: import("./db.js").Keep; sender: import("./sender.js").Sender; device: string;
  inTurn: (does: () => Promise<any>) => Promise<any>; drawn: (tile: import("./tile.js").Tile) => void; where: (pack: Pack) => any;
}

interface Answer {
  drafts?: Draft[]; events?: LogEvent[]; problem?: Problem; view?: View; dial?: any; setup?: Setup; hint?: string; lines?: string[]; packs?: Pack[]; rows?: any[];
}

// What the modules share while the page is open; the fields in the second part are not there from the start.
interface State {
  core: import("./core.js").Core; keep: import("./db.js").Keep; sender: import("./sender.js").Sender;
  session: Session; base: number; view: View; queue: Promise<any>; pressing: number; away: boolean; reading: boolean; leave: (value?: any) => void; logged: number;

  device?: string; senses?: import("./senses.js").Senses; beside?: import("./beside.js").Beside;
  busy?: boolean; left?: boolean; parts?: Part[]; drawn?: number; ready?: number;
}

interface Receipt { id: string; result: string; why?: string }

interface Sent { waiting: number; refused: (LogEvent & { why: string })[]; reachable: boolean; status: number }

// Alpine, of which a page uses only this.
declare const Alpine: { data<T>(name: string, make: () => T & ThisType<T & { $root: any; $refs: any; [name: string]: any }>): void };
