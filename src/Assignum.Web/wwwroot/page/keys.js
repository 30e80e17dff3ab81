// The keys of every page.
import { drawer, leave, pin } from "./drawer.js";
import { find } from "./finding.js";

const keys = document.getElementById("keys");
const typing = e => e.target.closest("input, select, textarea, [contenteditable]");

document.addEventListener("keydown", e => {
  if ((e.key === "k" && (e.ctrlKey || e.metaKey)) || (e.key === "/" && !typing(e))) {
    if (find) {
      e.preventDefault();
      find.focus();
      find.select();
    }
    return;
  }
  if (e.key === "Escape") {
    if (keys?.open) return;
    const menu = document.querySelector("details.more[open]");
    if (menu) {
      menu.open = false;
      menu.querySelector("summary").focus();
      return;
    }
    if (drawer?.childElementCount) {
      e.preventDefault();
      leave();
    }
    return;
  }
  if (typing(e) || e.ctrlKey || e.metaKey || e.altKey) return;
  if (e.key === "?") {
    keys?.querySelectorAll("[data-keys-of]").forEach(part => {
      part.hidden = !document.querySelector(part.dataset.keysOf);
    });
    keys?.showModal();
  } else if (e.key === "n") {
    const add = document.querySelector("[data-add]");
    if (add) {
      e.preventDefault();
      add.click();
    }
  } else if (e.key === "e") {
    const example = document.querySelector("[data-example]");
    if (example) {
      e.preventDefault();
      example.click();
    }
  } else if (e.key === "p") {
    pin();
  } else if (e.key === "j" || e.key === "k") {
    const rows = [...document.querySelectorAll("main tbody tr")].filter(r => r.querySelector("a, input"));
    const at = rows.findIndex(r => r.classList.contains("at"));
    const next = rows[Math.min(rows.length - 1, Math.max(0, at + (e.key === "j" ? 1 : -1)))];
    rows.forEach(r => r.classList.toggle("at", r === next));
    (next?.querySelector("a:not(.turn)") || next?.querySelector("input"))?.focus();
    next?.scrollIntoView({ block: "nearest" });
  }
  // In a tree, right opens the heading one stands on and left closes it; one stays on it when the tree comes back.
  else if (e.key === "ArrowRight" || e.key === "ArrowLeft") {
    const turn = document.querySelector("tr.at .turn");
    if (turn?.getAttribute("aria-expanded") === String(e.key === "ArrowLeft")) {
      e.preventDefault();
      standing = turn.closest("tr").id;
      turn.click();
    }
  }
});
let standing = null;
document.addEventListener("htmx:afterSettle", () => {
  const row = standing && document.getElementById(standing);
  if (!row) return;
  standing = null;
  row.classList.add("at");
  row.querySelector("a:not(.turn)")?.focus();
});

// One key for each decision: what carries its name is pressed, or gone to where something is typed.
document.addEventListener("keydown", e => {
  if (typing(e) || e.ctrlKey || e.metaKey || e.altKey || keys?.open) return;
  const wanted = e.key.length === 1 ? e.key.toLowerCase() : e.key;
  const target = [...document.querySelectorAll(`main [data-key="${CSS.escape(wanted)}"]`)].find(t => t.offsetParent);
  if (!target || (wanted === "Enter" && e.target.closest("a, button, summary"))) return;
  e.preventDefault();
  if (target.matches("input:not([type=radio])")) target.focus();
  else target.click();
});
// What was pressed is gone with the board it stood on; the keys go on where it stands.
document.addEventListener("htmx:afterSwap", e => {
  if (e.detail.target.id === "board") e.detail.target.focus({ preventScroll: true });
});
