/** For somebody who does not own the vehicle: forms that the server would refuse are shown, and shown as not theirs. */

/** @typedef {{ path: string, what: string[], but: string[] }} Opening */
/** @type {Opening[]} */
const openings = JSON.parse(document.getElementById("ys-openings")?.textContent ?? "[]");
const owner = document.getElementById("ys-role")?.dataset.owner ?? "";

/** @param {HTMLFormElement} form @param {HTMLElement} button */
function isOpen(form, button) {
  const { pathname } = new URL(button.getAttribute("formaction") || form.action, location.href),
    opening = openings.find(({ path }) => new RegExp(path).test(pathname));
  if (!opening) return false;
  const name = button.getAttribute("name") ?? "",
    what = name === "what" ? button.getAttribute("value") : new FormData(form).get("what");
  return !opening.but.includes(name) && (!opening.what.length || opening.what.includes(String(what)));
}

for (const form of document.querySelectorAll("form[method=post]")) {
  if (!(form instanceof HTMLFormElement) || !new URL(form.action, location.href).pathname.startsWith("/v/"))
    continue;
  const buttons = [...form.elements].filter(
    (each) => each instanceof HTMLButtonElement && each.type === "submit",
  );
  const shut = /** @type {HTMLButtonElement[]} */ (buttons).filter((button) => !isOpen(form, button));
  for (const button of shut) {
    button.disabled = true;
    button.title = `Only ${owner}, the owner, may do this`;
  }
  if (shut.length === 0 || shut.length < buttons.length) continue;
  const said = document.createElement("p");
  said.className = "mut ys-not-yours";
  said.textContent = `For ${owner}, the owner.`;
  shut[shut.length - 1].after(said);
}
