/** The order of removal: steps dragged to another place, and a search that tells how far it is. */
const POLL_MS = 500;

export function mount(list) {
  let held = null;
  list.addEventListener("dragstart", (event) => {
    held = event.target.closest("li");
    held.classList.add("is-held");
    event.dataTransfer.effectAllowed = "move";
  });
  list.addEventListener("dragover", (event) => {
    const over = event.target.closest("li");
    if (!held || !over) return;
    event.preventDefault();
    if (over === held) return;
    const { top, height } = over.getBoundingClientRect();
    over[event.clientY < top + height / 2 ? "before" : "after"](held);
  });
  list.addEventListener("drop", (event) => event.preventDefault());
  list.addEventListener("dragend", () => {
    held?.classList.remove("is-held");
    held = null;
    const query = new URLSearchParams(location.search),
      steps = [...list.children].map((item) => item.dataset.action);
    if (steps.join() === query.getAll("step").join()) return;
    query.delete("step");
    for (const step of steps) query.append("step", step);
    location.assign(`?${query}`);
  });
}

export function follow(box) {
  const bar = box.querySelector("progress"),
    said = box.querySelector("[data-said]");
  const look = async () => {
    try {
      const response = await fetch(box.dataset.progress, { headers: { Accept: "application/json" } });
      if (response.status === 404) return location.reload();
      const { share, done } = await response.json();
      bar.value = share;
      if (done) return location.reload();
    } catch {
      said.textContent = "Yellow Sill does not answer. Is it still running?";
    }
    setTimeout(look, POLL_MS);
  };
  setTimeout(look, POLL_MS);
}

for (const list of document.querySelectorAll("[data-order].is-live")) mount(list);
for (const box of document.querySelectorAll("[data-progress]")) follow(box);
