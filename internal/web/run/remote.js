// A simulated remote: it types the same keys as a real one into the session of this browser.
const wire = new BroadcastChannel("patientfox-remote");
/** @type {NodeListOf<HTMLElement>} */
const keys = document.querySelectorAll("[data-press]");
for (const key of keys) {
  key.addEventListener("click", () => {
    wire.postMessage({ key: key.dataset.press });
    document.getElementById("pressed").textContent = `Sent: ${key.textContent.trim()}`;
  });
}
