// The grid: answers where two facts meet. Only what is in view is drawn; everything works from the keyboard.
import * as answers from "./grid/answers.js";
import { drawing } from "./grid/drawing.js";
import { HEAD, ROW, element } from "./grid/measures.js";
import { moving } from "./grid/moving.js";
import { saving } from "./grid/saving.js";
import { typing } from "./grid/typing.js";

const A = window.Assignum;

class Grid {
  constructor(host) {
    this.host = host;
    this.address = host.dataset.grid;
    this.editable = host.dataset.editable === "yes";
    this.at = { row: 0, column: 0 };
    this.anchor = { row: 0, column: 0 };
    this.undone = [];
    this.faults = new Map();
    this.edit = null;
    this.said = element("p", "said-grid");
    this.said.setAttribute("role", "status");
    this.said.setAttribute("aria-live", "polite");
    this.pane = element("div", "pane");
    this.pane.tabIndex = 0;
    this.pane.setAttribute("role", "grid");
    this.pane.setAttribute("aria-label", host.getAttribute("aria-label"));
    this.board = element("div", "board");
    this.pane.append(this.board);
    host.append(this.pane, this.said);
    this.pane.addEventListener("scroll", () => {
      this.draw();
      this.settle();
    });
    this.pane.addEventListener("keydown", e => this.key(e));
    this.pane.addEventListener("mousedown", e => this.point(e));
    this.pane.addEventListener("dblclick", () => this.begin());
    this.pane.addEventListener("copy", e => this.copy(e));
    this.pane.addEventListener("paste", e => this.paste(e));
    this.pane.addEventListener("focus", () => this.draw());
    this.pane.addEventListener("blur", () => this.draw());
    new ResizeObserver(() => {
      this.fit();
      this.draw();
    }).observe(this.pane);
    document.body.addEventListener("draft-changed", () => {
      if (!this.edit) this.load();
    });
    this.load().then(() => {
      this.begun();
      if (document.activeElement === document.body || document.activeElement === null) this.pane.focus({ preventScroll: true });
    });
  }

  // A page may be opened at a cell.
  begun() {
    const asked = new URLSearchParams(location.search),
      row = this.data?.rows.findIndex(x => x.code === asked.get("row")) ?? -1,
      column = this.data?.columns.findIndex(x => x.code === asked.get("column")) ?? -1;
    if (asked.has("row") && row >= 0 && column >= 0) this.go(row, column);
  }

  handler(name) {
    return this.address + "&handler=" + name;
  }

  async load() {
    const answer = await A.ask(this.handler("cells"), { headers: { Accept: "application/json" } }).catch(() => null);
    if (answer?.ok) this.take(await answer.json());
    else this.tell("The grid could not be read. Load the page again.", true);
  }

  take(data) {
    this.data = data;
    this.rows = data.rows.length;
    this.columns = data.columns.length;
    this.at.row = Math.min(this.at.row, Math.max(0, this.rows - 1));
    this.at.column = Math.min(this.at.column, this.columns - 1);
    this.fit();
    // Whole rows: none is cut, at the bottom or, once it has been scrolled, at the top.
    const room = Math.max(260, window.innerHeight - this.pane.getBoundingClientRect().top - 76),
      bar = this.pane.offsetHeight - this.pane.clientHeight;
    this.pane.style.height =
      (this.rows * ROW + HEAD + 1 <= room ? HEAD + this.rows * ROW + 1 : HEAD + Math.floor((room - HEAD - bar) / ROW) * ROW) + bar + "px";
    this.pane.setAttribute("aria-rowcount", this.rows + 1);
    this.pane.setAttribute("aria-colcount", this.columns + 1);
    const pages = document.querySelector("[data-pages]"),
      more = document.querySelector("[data-more]");
    if (pages) {
      const further = +this.host.dataset.from + +this.host.dataset.most < data.total;
      more.hidden = !further;
      pages.hidden = !further && +this.host.dataset.from === 0;
    }
    this.draw();
  }

  cell(row, column) {
    return answers.cellAt(this.data, row, column);
  }

  id(r, c) {
    return "cell-" + r + "-" + c;
  }

  range() {
    return answers.range(this.at, this.anchor);
  }

  inRange(r, c) {
    const { top, bottom, left, right } = this.range();
    return r >= top && r <= bottom && c >= left && c <= right;
  }

  // A cell as it is seen now, by what it stands for and not by where it stands.
  seen(row, column) {
    return answers.seen(this.data, row, column);
  }

  find(cell) {
    return answers.find(this.data, cell);
  }

  named(cell) {
    return answers.named(cell);
  }

  open() {
    const { row, column } = this.at,
      value = (name, code) => (code === null ? "" : `&${name}=${encodeURIComponent(code)}`);
    window.htmx.ajax("GET", this.handler("cell") + value("row", this.data.rows[row].code) + value("column", this.data.columns[column].code), {
      target: "#drawer",
    });
  }

  tell(text, fault) {
    this.said.textContent = text;
    this.said.classList.toggle("fault", !!fault);
    this.said.setAttribute("role", fault ? "alert" : "status");
  }
}

Object.assign(Grid.prototype, drawing, moving, typing, saving);

document.querySelectorAll("[data-grid]").forEach(host => {
  host.grid = new Grid(host);
});
