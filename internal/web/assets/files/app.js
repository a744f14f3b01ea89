// Panels and menus of the pages, for Alpine's build without eval. No rule is written here.
document.addEventListener("alpine:init", () => {
  Alpine.data("newplan", () => ({
    kind: "held",
    init() {
      this.kind = this.$root.dataset.kind || "held";
    },
    get held() {
      return this.kind === "held";
    },
    get cued() {
      return this.kind === "cued";
    },
    get ladder() {
      return this.kind === "held" ? "Duration of each step" : "Your distance at each step";
    },
    get unit() {
      return this.kind === "held" ? "s" : "m";
    },
  }));

  Alpine.data("rule", () => ({
    kind: "set",
    init() {
      this.kind = this.$root.dataset.kind || "set";
    },
    get set() {
      return this.kind === "set";
    },
    get run() {
      return this.kind === "run";
    },
  }));
});

// A form that was sent once is not sent again by a second click; its key would catch it anyway.
document.addEventListener("submit", (event) => {
  const form = event.target;
  if (form.dataset.sent) {
    event.preventDefault();
    return;
  }
  form.dataset.sent = "yes";
});
window.addEventListener("pageshow", () => {
  for (const form of document.forms) delete form.dataset.sent;
});
