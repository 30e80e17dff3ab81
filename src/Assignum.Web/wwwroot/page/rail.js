// The rail folds to its marks and counts, and stays so.
const fold = folded => {
  document.querySelector(".frame")?.classList.toggle("folded", folded);
  document.querySelector("[data-fold]")?.setAttribute("aria-expanded", String(!folded));
};
fold(localStorage.getItem("folded") === "yes");
document.addEventListener("click", e => {
  if (!e.target.closest("[data-fold]")) return;
  const folded = localStorage.getItem("folded") !== "yes";
  localStorage.setItem("folded", folded ? "yes" : "no");
  fold(folded);
});
