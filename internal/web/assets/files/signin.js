// The page of somebody who is not let in yet: a passkey, where the browser knows what that is.
import { can, use } from "./passkey.js";

const part = document.getElementById("passkey");
if (part && can()) {
  part.hidden = false;
  const says = /** @type {HTMLElement} */ (part.querySelector("[role=alert]"));
  part.querySelector("button")?.addEventListener("click", async () => {
    says.textContent = "";
    says.textContent = await use();
    if (!says.textContent) location.assign("/");
  });
}
