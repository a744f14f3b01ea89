// A page with nothing on it: modules that draw can be loaded by tests of what they compute.
Object.assign(globalThis, {
  document: { getElementById: () => null, querySelectorAll: () => [] },
});
