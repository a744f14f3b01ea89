import assert from "node:assert/strict";
import { test } from "node:test";
import "./page.js";

const { chips } = await import("../form.js");

// What of an element the words to touch need.
class Key extends EventTarget {
  attributes = {};
  setAttribute(name, value) {
    this.attributes[name] = value;
  }
}

// row lays out words beside an input that holds some, and says how they stand.
function row(/** @type {string[]} */ words, value = "") {
  globalThis.document.createElement = () => new Key();
  const input = Object.assign(new EventTarget(), { value, onchange: null });
  input.dispatchEvent = () => input.onchange();
  let keys = [];
  chips({ replaceChildren: (...all) => (keys = all) }, input, words);
  const touch = (word) => keys.find((key) => key.textContent === word).dispatchEvent(new Event("click"));
  const pressed = () => keys.filter((key) => key.attributes["aria-pressed"] === "true").map((key) => key.textContent);
  return { input, touch, pressed };
}

test("a touched word joins what is typed, and leaves it when touched again", () => {
  const { input, touch, pressed } = row(["wind", "gulls", "wet deck"], "a dropped chip");
  touch("gulls");
  touch("wet deck");
  assert.equal(input.value, "a dropped chip, gulls, wet deck");
  assert.deepEqual(pressed(), ["gulls", "wet deck"]);
  touch("gulls");
  assert.equal(input.value, "a dropped chip, wet deck");
  assert.deepEqual(pressed(), ["wet deck"]);
});

test("words that are typed stand as touched, whatever the spaces are", () => {
  const { pressed } = row(["wind", "gulls"], " gulls ,,  hail,");
  assert.deepEqual(pressed(), ["gulls"]);
});
