// Steps through the runs of the page. What is shown at a moment stands in the data; nothing is worked out here.
(() => {
  "use strict";
  const $ = (id) => document.getElementById(id);
  const runs = JSON.parse($("data").textContent);
  const state = { run: 0, at: 0, before: -1, opened: new Set(), answered: new Set(), asks: true };
  const run = () => runs[state.run];
  const last = () => run().steps.length - 1;

  function make(tag, className, text) {
    const made = document.createElement(tag);
    if (className) made.className = className;
    if (text !== undefined) made.textContent = text;
    return made;
  }

  // How many of some numbers, in order, are not above another.
  function upTo(numbers, most, stride = 1) {
    let low = 0, high = numbers.length / stride;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (numbers[middle * stride] <= most) low = middle + 1; else high = middle;
    }
    return low;
  }

  // What may be seen

  function question() {
    if (!state.asks) return null;
    return run().questions.find((its) => !state.answered.has(`${state.run} ${its[0]}`)) ?? null;
  }

  const limit = () => question()?.[0] ?? last();

  // The text

  const shownLines = new Map();

  function showText() {
    const its = run(), at = state.at, file = its.files[at], seen = limit();
    const table = $(`text-${state.run}-${file}`);
    for (const other of document.querySelectorAll("table.text")) other.hidden = other !== table;
    if (!shownLines.has(table)) {
      const rows = [...table.tBodies[0].rows];
      shownLines.set(table, rows.map((row) => ({
        row, button: row.querySelector("button"), visits: row.cells[1], note: row.cells[3], told: "",
      })));
    }
    const lines = shownLines.get(table);
    const ran = at > 0 && its.files[at - 1] === file ? its.lines[at - 1] : 0;
    lines.forEach((line, place) => showLine(line, its.text[file][place + 1], place + 1, ran, seen));
    lines[its.lines[at] - 1]?.row.scrollIntoView({ block: "nearest" });
  }

  function showLine(line, told, number, ran, seen) {
    const at = state.at, here = number === run().lines[at], tellsAll = seen === last();
    let visits = "", note = null, faded = false, never = false;
    if (told) {
      const [before, inAll, moments, reached, notes] = told;
      const soFar = before + upTo(moments, at);
      if (inAll && (soFar || tellsAll)) visits = tellsAll ? `${soFar}/${inAll}` : `${soFar}`;
      faded = reached === -1 || reached > at;
      never = reached === -1 && tellsAll;
      const place = upTo(notes, at, 2) - 1;
      if (place >= 0 && notes[place * 2 + 1] >= 0) note = run().notes[notes[place * 2 + 1]];
      line.button.disabled = !moments.length || moments[0] > seen;
    }
    const classes = [here && "here", number === ran && "ran", faded && "faded", never && "never", note?.[1] && "trouble"];
    const name = classes.filter(Boolean).join(" "), text = note ? note[tellsAll ? 0 : 2] : "";
    const now = `${name}|${visits}|${text}`;
    if (line.told === now) return;
    line.told = now;
    line.row.className = name;
    if (here) line.row.setAttribute("aria-current", "step"); else line.row.removeAttribute("aria-current");
    line.visits.textContent = visits;
    line.note.textContent = text;
  }

  // The call frames

  function showDepths() {
    const stack = run().stacks[state.at], layers = [];
    for (let place = 0; place < stack.length; place += 2) {
      layers.push(layer(run().layers[stack[place]], run().names[stack[place + 1]], place / 2));
    }
    $("depths").replaceChildren(make("h2", "", "Depths"), ...layers);
    layers.at(-1)?.scrollIntoView({ block: "nearest" });
  }

  function layer([title, depth, active, rows], detail, place) {
    const made = make("section", active ? "layer on" : "layer");
    made.dataset.depth = Math.min(depth, 4);
    const heading = make("h3", "", title);
    heading.append(make("span", "detail", detail));
    made.append(heading);
    if (!rows.length) return made;
    const table = make("table", ""), body = make("tbody", "");
    const path = [`${place} ${title}`];
    let closed = Infinity;
    rows.forEach((number, index) => {
      const row = run().rows[number], indent = row[1];
      path.length = indent + 1;
      path.push(row[2]);
      if (indent > closed) return;
      closed = Infinity;
      const next = run().rows[rows[index + 1]], canOpen = next !== undefined && next[1] > indent;
      const key = path.join("/"), isOpen = state.opened.has(key);
      if (canOpen && !isOpen) closed = indent;
      body.append(tableRow(row, canOpen ? key : null, isOpen));
    });
    table.append(body);
    made.append(table);
    return made;
  }

  function tableRow(row, key, isOpen) {
    const [kind, indent, name, type, , , changed] = row;
    const made = make("tr", changed ? `${kind} changed` : kind);
    if (kind === "heading" || kind === "folded" || kind === "more") {
      const only = make("td", `indent${Math.min(indent, 4)}`, name);
      only.colSpan = 3;
      made.append(only);
      return made;
    }
    const heading = make("th", `indent${Math.min(indent, 4)}`);
    heading.scope = "row";
    if (key === null) heading.textContent = name;
    else heading.append(opener(name, key, isOpen));
    made.append(heading, make("td", "type", type), value(row));
    return made;
  }

  function opener(name, key, isOpen) {
    const button = make("button", "opener", name);
    button.type = "button";
    button.setAttribute("aria-expanded", String(isOpen));
    button.addEventListener("click", () => {
      if (isOpen) state.opened.delete(key); else state.opened.add(key);
      showDepths();
      const again = [...document.querySelectorAll(".opener")].find((its) => its.dataset.key === key);
      again?.focus();
    });
    button.dataset.key = key;
    return button;
  }

  function value([kind, , , , text, was, changed, tag, cells]) {
    const made = make("td", "value");
    if (tag) made.append(tagged(tag));
    if (was) made.append(make("s", "was", was), make("span", "unseen", " before, now "), " → ");
    if (kind === "unset" || kind === "deleted") {
      made.append(make("span", "none", kind === "unset" ? "no value yet" : "deleted"));
    }
    for (const [shown, isChanged, inner] of cells) {
      const cell = make("span", isChanged ? "cell changed" : "cell", shown);
      if (inner) cell.append(tagged(inner));
      made.append(cell);
    }
    if (!cells.length) made.append(make("span", "held", text));
    if (changed) made.append(make("span", "leaf"), make("span", "unseen", " changed"));
    return made;
  }

  function tagged(tag) {
    const made = make("span", "tag", `‹${tag}›`);
    made.dataset.tag = tag;
    return made;
  }

  function light(tag) {
    for (const its of document.querySelectorAll(".tag")) its.classList.toggle("lit", its.dataset.tag === tag);
  }

  // The output

  function makeOutput() {
    $("output").replaceChildren(...run().output.map(([kind, text]) => {
      if (kind !== "picture") return make("span", kind, text);
      const image = make("img", "");
      image.src = `data:image/png;base64,${text}`;
      image.alt = "a picture that the program showed";
      return image;
    }));
  }

  function showOutput() {
    run().output.forEach(([, , moment], place) => { $("output").children[place].hidden = moment > state.at; });
    const printed = $("printed");
    printed.scrollTop = printed.scrollHeight;
  }

  // The tide line

  const along = (moment) => `${(100 * moment) / Math.max(last(), 1)}%`;

  function mark(className, moment, text) {
    const made = make("span", className, text);
    made.style.left = along(moment);
    made.dataset.moment = moment;
    return made;
  }

  function makeWater() {
    const deepest = Math.max(1, ...run().bodies.map((its) => its[1]));
    const bodies = run().bodies.map(([name, depth, first, end, raised]) => {
      const body = mark(raised ? "body raised" : "body", first, name);
      body.dataset.depth = Math.min(depth, 4);
      body.style.width = along(Math.min(end + 1, last()) - first);
      body.style.top = `${14 + (44 * depth) / (deepest + 1)}px`;
      body.style.height = `${44 / (deepest + 1)}px`;
      return body;
    });
    const printed = new Set(run().output.filter((its) => its[0] !== "typed").map((its) => Math.max(its[2] - 1, 0)));
    const marks = [
      ...[...printed].map((moment) => mark("sign printed", moment)),
      ...run().raises.map((moment) => mark("sign shell", moment)),
      ...run().stops.map(([moment, number]) => mark("sign stop", moment, number)),
    ];
    const veil = make("span", "veil");
    veil.id = "veil";
    $("water").replaceChildren(...bodies, ...marks, veil);
    $("reach").max = last();
  }

  function showWater() {
    const seen = limit();
    $("veil").style.left = along(seen);
    $("veil").hidden = seen === last();
    $("reach").value = state.at;
    $("reach").setAttribute("aria-valuetext", sentence());
    $("here").textContent = sentence();
  }

  function sentence() {
    const its = run(), at = state.at, words = ["is about to run", "ends here", "an exception passes here"];
    const name = its.names[its.functions[at]], place = name === "module" ? "in the module" : `in ${name}`;
    const total = limit() === last() ? ` of ${last() + 1}` : "";
    return `${at + 1}${total}: line ${its.lines[at]} ${place} ${at === last() && !its.cut ? "– the run ends here" : words[its.stands[at]]}`;
  }

  // The route and what is to be said first

  function showRoute() {
    const here = run().stops.filter((its) => its[0] === state.at), panel = $("say");
    panel.hidden = !here.length;
    panel.replaceChildren(...here.map(([, number, html]) => {
      const stop = make("div", "stop");
      stop.innerHTML = html; // made by Eelgrass from Markdown in which tags are no tags
      stop.prepend(make("span", "number", `Stop ${number} of ${run().stops.length}`));
      return stop;
    }));
    const its = question(), asksHere = its !== null && its[0] === state.at;
    if (asksHere && $("question").hidden) $("answer").value = "";
    $("question").hidden = !asksHere;
    if (asksHere) $("asked").textContent = its[2];
  }

  function answer(given) {
    const [moment, kind, , expected, told] = question();
    const [right, hint] = given === null ? [false, ""] : answers.judged(kind, expected, given);
    state.answered.add(`${state.run} ${moment}`);
    show(state.at);
    $("verdict").className = right ? "right" : "";
    $("verdict").textContent = `${right ? "Yes. " : ""}${told}${hint ? ` ${hint}` : ""}`;
    document.querySelector('[data-move="next_line"]').focus();
  }

  // Moves

  function target(move) {
    const its = run(), at = state.at, stops = its.stops.map((stop) => stop[0]);
    switch (move) {
      case "first": return 0;
      case "last": return last();
      case "next_any": return at + 1;
      case "previous_any": return at - 1;
      case "next_stop": return stops.find((moment) => moment > at) ?? at;
      case "previous_stop": return stops.findLast((moment) => moment < at) ?? at;
      default: return at + its.moves[move][at];
    }
  }

  function show(moment) {
    const at = Math.max(0, Math.min(moment, limit()));
    if (at !== state.at) { $("verdict").textContent = ""; state.at = at; }
    showText();
    showDepths();
    showOutput();
    showWater();
    showRoute();
  }

  function begin(number) {
    state.run = number;
    state.at = 0;
    state.opened.clear();
    $("cut").hidden = !run().cut;
    $("cut").textContent = run().cut;
    for (const move of ["previous_stop", "next_stop"]) {
      document.querySelector(`[data-move="${move}"]`).hidden = !run().stops.length;
    }
    $("asks").hidden = !run().questions.length;
    makeOutput();
    makeWater();
    show(0);
  }

  function nearest(line) {
    const [, , moments] = run().text[run().files[state.at]][line];
    const seen = moments.filter((moment) => moment <= limit());
    return seen.reduce((best, its) => (Math.abs(its - state.at) < Math.abs(best - state.at) ? its : best), seen[0]);
  }

  const KEYS = {
    ArrowRight: "next_line", ArrowLeft: "previous_line", ArrowDown: "into", ArrowUp: "out", Home: "first", End: "last",
    PageDown: "next_stop", PageUp: "previous_stop", "Shift+ArrowRight": "next_any", "Shift+ArrowLeft": "previous_any",
    "Shift+ArrowUp": "call_of", "Ctrl+ArrowRight": "next_pass", "Ctrl+ArrowLeft": "previous_pass",
  };

  document.addEventListener("keydown", (event) => {
    if (event.altKey || event.metaKey || event.target.matches('input[type="text"], select')) return;
    const move = KEYS[`${event.ctrlKey ? "Ctrl+" : ""}${event.shiftKey ? "Shift+" : ""}${event.key}`];
    if (!move) return;
    event.preventDefault();
    show(target(move));
  });
  document.addEventListener("click", (event) => {
    const move = event.target.closest("[data-move]")?.dataset.move;
    const line = event.target.closest("button.go")?.closest("tr").dataset.line;
    if (move && event.target.closest("button")) show(target(move));
    if (line) show(nearest(line));
  });
  document.addEventListener("mouseover", (event) => light(event.target.closest?.(".tag")?.dataset.tag ?? null));
  $("reach").addEventListener("input", () => show(Number($("reach").value)));
  $("case")?.addEventListener("change", () => begin(Number($("case").value)));
  $("question").addEventListener("submit", (event) => { event.preventDefault(); answer($("answer").value); });
  $("show").addEventListener("click", () => answer(null));
  $("asks").addEventListener("click", () => {
    state.asks = !state.asks;
    $("asks").setAttribute("aria-pressed", String(state.asks));
    show(state.at);
  });
  $("keys").addEventListener("click", () => {
    $("help").hidden = !$("help").hidden;
    $("keys").setAttribute("aria-expanded", String(!$("help").hidden));
  });
  $("look").addEventListener("click", () => {
    const isDark = getComputedStyle(document.documentElement).colorScheme === "dark";
    document.documentElement.className = isDark ? "light" : "dark";
  });
  begin(0);
  const wanted = /^#(\d+)$/.exec(location.hash);
  if (wanted) show(Number(wanted[1]) - 1);
})();
