// One way of finding by typing, in every field that names something: words in any order, best first; Enter takes the first, and what was found
// is named at once.
(() => {
  const A = window.Assignum,
    BETWEEN = " · ",
    WAIT = 100;
  const list = document.createElement("div");
  list.id = "picks";
  list.setAttribute("role", "listbox");
  list.setAttribute("aria-label", "What fits");
  list.hidden = true;
  document.body.append(list);
  let field = null,
    found = [],
    at = -1,
    asked = 0,
    coming = null,
    timer = 0;

  const close = () => {
    list.hidden = true;
    list.replaceChildren();
    found = [];
    at = -1;
    if (field) {
      field.setAttribute("aria-expanded", "false");
      field.removeAttribute("aria-activedescendant");
    }
    field = null;
  };
  const written = choice => (choice.name ? choice.code + BETWEEN + choice.name : choice.code);
  const place = () => {
    const box = field.getBoundingClientRect(),
      below = window.innerHeight - box.bottom - 8,
      above = box.top - 8,
      up = below < 160 && above > below;
    list.style.left = Math.min(box.left, window.innerWidth - 330) + "px";
    list.style.minWidth = Math.max(box.width, 300) + "px";
    list.style.maxHeight = Math.min(320, up ? above : below) + "px";
    list.style.top = up ? "auto" : box.bottom + 2 + "px";
    list.style.bottom = up ? window.innerHeight - box.top + 2 + "px" : "auto";
  };
  const mark = to => {
    at = to;
    [...list.children].forEach((option, i) => {
      option.classList.toggle("at", i === at);
      option.setAttribute("aria-selected", i === at);
    });
    if (at >= 0) {
      field.setAttribute("aria-activedescendant", list.children[at].id);
      list.children[at].scrollIntoView({ block: "nearest" });
    } else field.removeAttribute("aria-activedescendant");
  };
  const show = () => {
    list.replaceChildren(
      ...found.map((choice, i) => {
        const option = document.createElement("div"),
          code = document.createElement("span"),
          name = document.createElement("span"),
          warning = document.createElement("span");
        option.id = "pick-" + i;
        option.setAttribute("role", "option");
        code.className = "num";
        code.textContent = choice.code;
        name.textContent = choice.name;
        warning.className = "small c";
        warning.textContent = choice.warning;
        option.append(code, name, warning);
        option.classList.toggle("barred", !!choice.barred);
        if (choice.barred) option.setAttribute("aria-disabled", "true");
        option.addEventListener("mousedown", e => {
          e.preventDefault();
          if (choice.barred) return;
          const taken = field;
          take(i);
          taken.focus();
        });
        return option;
      }),
    );
    list.hidden = found.length === 0;
    field.setAttribute("aria-expanded", String(found.length > 0));
    field.setAttribute("aria-controls", "picks");
    if (found.length) {
      place();
      mark(found[0].barred ? -1 : 0);
    }
  };

  // Enter takes the first, unless what was typed names something that can't be taken: then it stays as typed, and is told.
  const first = () => (at >= 0 ? at : found[0]?.barred ? -1 : 0);
  const next = step => {
    let to = at;
    do to = (to + step + found.length) % found.length;
    while (found[to].barred && found.some(c => !c.barred));
    return to;
  };
  // What fits is known under the text it was asked for; later answers to earlier questions are left alone.
  const look = (input, helps) => {
    const mine = ++asked,
      purpose = input.dataset.purpose ? "&purpose=" + encodeURIComponent(input.dataset.purpose) : "";
    coming = A.ask(`${input.dataset.pick}${input.dataset.pick.includes("?") ? "&" : "?"}q=${encodeURIComponent(input.value)}${purpose}`, {}, helps)
      .then(answer => (answer?.ok ? answer.json() : []))
      .catch(() => [])
      .then(choices => {
        if (mine === asked && document.activeElement === input) {
          field = input;
          found = choices;
          show();
        }
        return choices;
      });
    return coming;
  };
  const take = i => {
    const input = field,
      choice = found[i];
    close();
    set(input, choice);
  };
  const set = (input, choice) => {
    input.dataset.taken = input.value = written(choice);
    say(input, "");
    input.dispatchEvent(new Event("input", { bubbles: true }));
    input.dispatchEvent(new Event("change", { bubbles: true }));
    check(input);
  };

  // What speaks against an account stands below its field, as soon as it is there.
  const say = (input, text) => {
    let said = input.nextElementSibling?.matches(".warns") ? input.nextElementSibling : null;
    if (!said && text) {
      said = document.createElement("p");
      said.className = "warns small c";
      said.setAttribute("role", "status");
      input.after(said);
    }
    if (said) {
      said.textContent = text;
      said.hidden = !text;
    }
  };
  const check = async input => {
    if (!input.dataset.purpose || !input.value.trim()) {
      say(input, "");
      return;
    }
    const text = input.value,
      answer = await A.ask(
        `${input.dataset.pick}?handler=fit&purpose=${encodeURIComponent(input.dataset.purpose)}&account=${encodeURIComponent(text)}`,
        {},
        true,
      ).catch(() => null);
    if (answer?.ok && input.value === text) say(input, await answer.text());
  };

  const picks = e => e.target.closest?.("[data-pick]");
  document.addEventListener("input", e => {
    const input = picks(e);
    if (!input || input.value === input.dataset.taken) return;
    delete input.dataset.taken;
    say(input, "");
    clearTimeout(timer);
    asked++;
    coming = null;
    if (field === input) {
      found = [];
      show();
    }
    if (input.value.trim()) timer = setTimeout(() => look(input, true), WAIT);
    else close();
  });
  // A field of its own keys comes first, so that Enter takes what is offered and does not send the form.
  document.addEventListener(
    "keydown",
    e => {
      const input = picks(e);
      if (!input || e.isComposing) return;
      const open = field === input && found.length > 0;
      if (e.key === "ArrowDown" && !open) {
        e.preventDefault();
        look(input);
      } else if (e.key === "ArrowDown" || (e.key === "ArrowUp" && open)) {
        e.preventDefault();
        mark(next(e.key === "ArrowDown" ? 1 : -1));
      } else if (e.key === "Escape" && open && !input.matches("[data-pick-given]")) {
        e.preventDefault();
        e.stopPropagation();
        close();
      } else if (
        e.key === "Enter" &&
        !e.ctrlKey &&
        !e.metaKey &&
        input.value.trim() &&
        input.value !== input.dataset.taken &&
        !input.matches("[data-pick-given]")
      ) {
        if (open) {
          e.preventDefault();
          e.stopPropagation();
          if (first() >= 0) take(first());
          else {
            close();
            check(input);
          }
          return;
        }
        // Typed faster than it was found: what comes first is taken as soon as it is there.
        clearTimeout(timer);
        const value = input.value,
          given = input.defaultValue === value;
        if (given) return;
        e.preventDefault();
        e.stopPropagation();
        (coming ?? look(input)).then(choices => {
          if (input.value !== value) return;
          close();
          if (choices.length && !choices[0].barred) set(input, choices[0]);
          else check(input);
        });
      }
    },
    true,
  );
  // Left behind, a field that only one thing fits names it.
  document.addEventListener("focusout", e => {
    const input = picks(e);
    if (!input || input.closest(".editor")) return;
    const value = input.value,
      known = field === input ? Promise.resolve(found) : coming;
    clearTimeout(timer);
    close();
    if (!value.trim() || value === input.dataset.taken || value === input.defaultValue) {
      if (!value.trim()) say(input, "");
      return;
    }
    (known && known !== null ? known : look(input, true)).then(choices => {
      if (input.value !== value || !input.isConnected) return;
      const exact = choices.find(c => c.code.toUpperCase() === value.trim().toUpperCase());
      if (!exact?.barred && (exact || choices.length === 1)) set(input, exact ?? choices[0]);
      else check(input);
    });
  });
  window.addEventListener(
    "scroll",
    () => {
      if (field) place();
    },
    true,
  );
  window.addEventListener("resize", () => {
    if (field) place();
  });

  // For a cell of the grid, whose field is not left but taken away.
  A.pickFirst = async input => {
    const value = input.value.trim();
    if (!value || input.value === input.dataset.taken) return value;
    const choices = field === input && found.length ? found : await (clearTimeout(timer), coming ?? look(input, true)),
      chosen = choices[Math.max(0, field === input ? at : 0)] ?? choices[0];
    close();
    return chosen && !chosen.barred ? chosen.code : value;
  };
  A.closePicks = close;
})();
