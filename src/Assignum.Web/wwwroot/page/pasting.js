// A block out of a spreadsheet, pasted into the lines of a form: cell for cell to the right and down, lines added as they are needed.

/** The cells of a pasted text, row by row; null where it is one value, which pastes as it is. */
export const block = text => {
  const rows = text
    .replace(/\r\n?/g, "\n")
    .replace(/\n$/, "")
    .split("\n")
    .map(row => row.split("\t"));
  return rows.length > 1 || rows[0].length > 1 ? rows : null;
};

/** A value as a field takes it: a box is ticked by yes, true, x or 1. */
export const ticked = value => /^(yes|true|x|1)$/i.test(value.trim());

if (typeof document !== "undefined")
  document.addEventListener("paste", e => {
    const body = e.target.closest?.("tbody[data-grows]"),
      rows = body && block(e.clipboardData.getData("text/plain"));
    if (!rows) return;
    e.preventDefault();
    const first = e.target.closest("tr"),
      column = [...first.querySelectorAll("[name]")].indexOf(e.target);
    let line = first;
    for (const row of rows) {
      row.forEach((value, i) => {
        const field = line.querySelectorAll("[name]")[column + i];
        if (!field) return;
        if (field.type === "checkbox") field.checked = ticked(value);
        else field.value = value.trim();
        // Each cell is as if it had been typed, so that a line is added below the last one.
        if (i === 0) field.dispatchEvent(new Event("input", { bubbles: true }));
      });
      line = line.nextElementSibling;
      if (!line) break;
    }
    body.closest("form").dispatchEvent(new Event("change", { bubbles: true }));
  });
