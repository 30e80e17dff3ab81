// In the find box, arrows choose and Enter opens; an Enter faster than the answer waits for it, so that it never opens what an earlier word found.
export const find = document.getElementById("find");
const found = document.getElementById("found");
let entered = false;

const answered = () => found.querySelector("[data-of]")?.dataset.of === find.value.trim();
const open = () => (found.querySelector("a.at") || found.querySelector("a"))?.click();

find?.addEventListener("keydown", e => {
  const links = [...found.querySelectorAll("a")],
    at = links.findIndex(a => a.classList.contains("at"));
  if (e.key === "ArrowDown" || e.key === "ArrowUp") {
    e.preventDefault();
    const next = links[(at + (e.key === "ArrowDown" ? 1 : links.length - 1)) % links.length] || links[0];
    links.forEach(a => a.classList.toggle("at", a === next));
    next?.scrollIntoView({ block: "nearest" });
  } else if (e.key === "Enter") {
    e.preventDefault();
    if (answered()) open();
    else entered = true;
  } else if (e.key === "Escape") {
    found.replaceChildren();
    find.value = "";
    find.blur();
  }
});
find?.addEventListener("input", () => (entered = false));
found?.addEventListener("htmx:afterSwap", () => {
  if (!entered || !answered()) return;
  entered = false;
  open();
});
document.addEventListener("click", e => {
  if (found && !e.target.closest(".find")) found.replaceChildren();
});
