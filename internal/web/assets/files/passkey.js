// Passkeys: the server asks, the browser's device answers, and the server takes the answer.

/** @returns {Promise<any>} */
async function asks(/** @type {string} */ path, /** @type {any} */ body) {
  const answer = await fetch(path, {
    method: "POST",
    headers: { "X-Patient-Fox": "1", "Content-Type": "application/json", Accept: "application/json" },
    body: JSON.stringify(body),
  });
  const said = await answer.json().catch(() => ({}));
  if (!answer.ok) throw new Error(said.detail || "That did not work. Try again.");
  return said;
}

// said does something, and answers why it did not work, "" where it did.
async function said(/** @type {() => Promise<void>} */ does) {
  try {
    await does();
    return "";
  } catch (error) {
    return error.name === "NotAllowedError" ? "Nothing was chosen. Try again, or use another way." : error.message;
  }
}

const credential = /** @type {any} */ (window).PublicKeyCredential;

export const can = () => Boolean(credential?.parseCreationOptionsFromJSON);

export const make = (/** @type {string} */ name) => said(async () => {
  const question = await asks("/me/passkeys", {});
  const key = /** @type {any} */ (await navigator.credentials.create({ publicKey: credential.parseCreationOptionsFromJSON(question.options) }));
  await asks(`/me/passkeys/${question.token}?name=${encodeURIComponent(name)}`, key.toJSON());
});

export const use = () => said(async () => {
  const question = await asks("/signin/passkey", {});
  const key = /** @type {any} */ (await navigator.credentials.get({ publicKey: credential.parseRequestOptionsFromJSON(question.options) }));
  await asks(`/signin/passkey/${question.token}`, key.toJSON());
});
