// The name of a field is dragged onto the column that gives it; the column's list says the same without a mouse.
let dragged = null;
document.addEventListener("dragstart", e => {
  dragged = e.target.closest?.("[data-field]")?.dataset.field || null;
  if (dragged) e.dataTransfer.setData("text/plain", dragged);
});
const over = e => dragged && e.target.closest?.(".mapping [data-column], .mapping td");
const columnOf = cell => (cell.dataset.column ? cell : cell.closest("table").querySelector(`[data-column="${cell.cellIndex}"]`));
document.addEventListener("dragover", e => {
  const cell = over(e);
  document.querySelectorAll(".mapping .over").forEach(c => c.classList.remove("over"));
  if (cell) {
    e.preventDefault();
    columnOf(cell).classList.add("over");
  }
});
document.addEventListener("drop", e => {
  const cell = over(e);
  if (!cell) return;
  e.preventDefault();
  document.querySelectorAll(".mapping th select").forEach(s => {
    if (s.value === dragged) s.value = "";
  });
  const select = columnOf(cell).querySelector("select");
  select.value = dragged;
  dragged = null;
  select.dispatchEvent(new Event("change", { bubbles: true }));
});
// A field that is chosen for one column leaves the other that had it.
document.addEventListener(
  "change",
  e => {
    if (e.target.matches(".mapping th select") && e.target.value)
      document.querySelectorAll(".mapping th select").forEach(s => {
        if (s !== e.target && s.value === e.target.value) s.value = "";
      });
  },
  true,
);
