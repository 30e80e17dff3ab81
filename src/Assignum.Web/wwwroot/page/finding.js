// In the find box, arrows choose and Enter opens.
export const find = document.getElementById("find");
const found = document.getElementById("found");

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
    (links[at] || links[0])?.click();
  } else if (e.key === "Escape") {
    found.replaceChildren();
    find.value = "";
    find.blur();
  }
});
document.addEventListener("click", e => {
  if (found && !e.target.closest(".find")) found.replaceChildren();
});
