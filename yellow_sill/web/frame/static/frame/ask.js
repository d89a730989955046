/** Asking the server. Answers come as {ok, status, data}; a refusal's data.error has what, mend, where, at. */
const token = () => document.querySelector("[name=csrfmiddlewaretoken]")?.value ?? "";

/** A change that this page made itself: it knows of it, unless somebody else's came between. */
function ownChange(revision) {
  const bar = document.querySelector(".ys-changed");
  if (!bar || Number(revision) !== Number(bar.dataset.revision) + 1) return;
  bar.dataset.revision = revision;
  bar.hidden = true;
}

export async function ask(url, values) {
  const options =
    values === undefined
      ? {}
      : { method: "POST", body: values instanceof FormData ? values : JSON.stringify(values) };
  const headers = { Accept: "application/json", "X-CSRFToken": token() };
  if (values !== undefined && !(values instanceof FormData)) headers["Content-Type"] = "application/json";
  try {
    const response = await fetch(url, { ...options, headers, credentials: "same-origin" });
    ownChange(response.headers.get("Yellow-Sill-Revision"));
    const data = await response.json();
    return { ok: response.ok, status: response.status, data };
  } catch {
    return {
      ok: false,
      status: 0,
      data: {
        error: {
          what: "Yellow Sill does not answer.",
          mend: "Is it still running? What you drew stays here.",
          where: "",
        },
      },
    };
  }
}

/** Calls the last of a burst only, and drops answers that a later question has overtaken. */
export function lastOnly(work, waitMs = 120) {
  let timer,
    round = 0;
  return (...args) => {
    clearTimeout(timer);
    const mine = ++round;
    timer = setTimeout(() => work(() => mine === round, ...args), waitMs);
  };
}

export function errorBox(error) {
  const box = document.createElement("div");
  box.className = "ys-err";
  box.setAttribute("role", "alert");
  box.innerHTML =
    '<svg viewBox="0 0 28 28" aria-hidden="true"><path d="M14 2L27 26H1z"/><path d="M14 10v8M14 21v2"/></svg>' +
    "<div><b></b> <span></span></div>";
  box.querySelector("b").textContent = error.what;
  box.querySelector("span").textContent = error.mend;
  return box;
}
