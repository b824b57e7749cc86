"use strict";
(() => {
const data = JSON.parse(document.getElementById("data").textContent);
const byId = (id) => document.getElementById(id);
const svgNames = "http://www.w3.org/2000/svg";
const states = ["fine", "tight", "overflows", "missing"];

function make(name, parent, text) {
  const element = document.createElement(name);
  if (text !== undefined) element.textContent = text;
  if (parent) parent.append(element);
  return element;
}
function draw(name, parent, attributes) {
  const element = document.createElementNS(svgNames, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  parent.append(element);
  return element;
}
const count = (n, what) => `${n} ${what}${n === 1 ? "" : "s"}`;
const isBackwards = (tag) => {
  const first = tag.split("-")[0];
  return ["ar", "he", "fa", "ur", "ps", "sd", "ug", "yi", "dv", "ckb"].includes(first);
};

// --- the table of locales

function listLocales() {
  byId("name").textContent = data.name;
  document.title = `${data.name} – arvik check`;
  const body = byId("locales").tBodies[0];
  data.locales.forEach((locale, at) => {
    const cells = data.lines.map((line) => line.cells[at]).filter((cell) => cell);
    const row = make("tr", body);
    const head = make("th", row, locale + (locale === data.source ? " (source)" : ""));
    head.scope = "row";
    make("td", row, cells.length);
    states.forEach((_, state) => make("td", row, cells.filter((cell) => cell.s === state).length));
    make("td", row, data.findings.filter((finding) => finding.locale === locale).length);
    const rates = cells.filter((cell) => cell.r && cell.s !== 3 && cell.l >= 8)
      .map((cell) => cell.r / 10).sort((a, b) => a - b);
    const share = (part) => rates[Math.min(rates.length - 1, Math.floor(rates.length * part))];
    make("td", row, rates.length ? `${share(0.5).toFixed(0)}, ${share(0.9).toFixed(0)}` : "–");
  });
  const errors = data.findings.filter((finding) => finding.error).length;
  byId("totals").textContent =
    `${count(data.lines.length, "line")} in ${count(data.locales.length, "locale")}, ` +
    `${count(errors, "error")}, ${count(data.findings.length - errors, "warning")}`;
}

// --- the table of lines

const findingsOf = new Map();  // by line and locale
for (const finding of data.findings) {
  if (finding.line === undefined) continue;
  const key = `${finding.line} ${finding.locale}`;
  if (!findingsOf.has(key)) findingsOf.set(key, []);
  findingsOf.get(key).push(finding);
}
const found = (line, locale) => findingsOf.get(`${line} ${data.locales[locale]}`) || [];

const rows = [];  // of the table, by line
let active = null;  // the button that the tab key reaches

function cellWords(cell) {
  if (cell.s === 3) return "none";
  const full = cell.pages > 1 ? `${cell.pages} p.` : cell.f === undefined ? "ok" : `${cell.f}`;
  return full + (cell.s === 2 ? " !" : "") + (cell.n ? ` ·${cell.n}` : "");
}
function cellName(line, locale) {
  const cell = data.lines[line].cells[locale];
  const parts = [states[cell.s]];
  if (cell.f !== undefined && cell.s !== 3) parts.push(`${cell.f} % full`);
  if (cell.pages > 1) parts.push(`${cell.pages} pages`);
  if (cell.n) parts.push(count(cell.n, "finding"));
  return `${data.lines[line].k || "line " + (line + 1)}, ${data.locales[locale]}: ${parts.join(", ")}`;
}

function makeCell(parent, line, locale) {
  const cell = data.lines[line].cells[locale];
  if (!cell) return;
  const button = make("button", parent);
  button.type = "button";
  button.className = `cell s${cell.s}`;
  button.tabIndex = -1;
  button.dataset.line = line;
  button.dataset.locale = locale;
  button.setAttribute("aria-label", cellName(line, locale));
  button.setAttribute("aria-pressed", "false");
  const bar = make("i", button);
  bar.style.width = `${cell.s === 3 || cell.f === undefined ? 0 : Math.min(cell.f, 100)}%`;
  make("b", button, cellWords(cell));
}

function listLines() {
  const table = byId("grid");
  const head = make("tr", table.tHead);
  make("th", head, "Line").scope = "col";
  for (const locale of data.locales) make("th", head, locale).scope = "col";
  const source = Math.max(data.locales.indexOf(data.source), 0);
  let body = null;
  let conversation = null;
  data.lines.forEach((line, at) => {
    if (line.c !== conversation) {
      conversation = line.c;
      body = make("tbody", table);
      const title = make("th", make("tr", body), conversation);
      title.scope = "rowgroup";
      title.colSpan = data.locales.length + 1;
    }
    const row = make("tr", body);
    if (line.a) row.className = "answer";
    const name = make("th", row);
    name.scope = "row";
    make("b", name, line.k || `line ${at + 1}`);
    const words = line.cells[source] ? line.cells[source].t : "";
    const speaker = line.a ? "→ " : line.p ? `${(data.speakers && data.speakers[line.p]) || line.p}: ` : "";
    const about = make("span", name, ` ${speaker}${words}`);
    about.dir = "auto";
    name.title = words;
    data.locales.forEach((_, locale) => makeCell(make("td", row), at, locale));
    rows.push(row);
  });
  setActive(table.querySelector("button.cell"));
}

function setActive(button) {
  if (active) active.tabIndex = -1;
  active = button;
  if (active) active.tabIndex = 0;
}

// The arrow keys go from cell to cell.
function moveFocus(event) {
  const button = event.target.closest("button.cell");
  if (!button) return;
  const shown = [...byId("grid").querySelectorAll("tbody tr:not([hidden])")].filter((row) => row.querySelector("button.cell"));
  const row = shown.indexOf(button.closest("tr"));
  const cells = (at) => [...shown[at].querySelectorAll("td:not([hidden]) button.cell")];
  const column = cells(row).indexOf(button);
  const clamp = (at) => Math.min(Math.max(at, 0), shown.length - 1);
  let to = null;
  switch (event.key) {
    case "ArrowDown": to = cells(clamp(row + 1))[column]; break;
    case "ArrowUp": to = cells(clamp(row - 1))[column]; break;
    case "ArrowRight": to = cells(row)[column + 1]; break;
    case "ArrowLeft": to = cells(row)[column - 1]; break;
    case "Home": to = cells(row)[0]; break;
    case "End": to = cells(row).at(-1); break;
    case "PageDown": to = cells(clamp(row + 12))[column]; break;
    case "PageUp": to = cells(clamp(row - 12))[column]; break;
    default: return;
  }
  event.preventDefault();
  if (to) to.focus();
}

// --- filters

function fill(select, all, options) {
  make("option", select, all).value = "";
  for (const [value, words] of options) make("option", select, words).value = value;
}
function listFilters() {
  const distinct = (values) => [...new Set(values)].filter((value) => value);
  fill(byId("by-conversation"), "all", distinct(data.lines.map((line) => line.c)).map((c) => [c, c]));
  fill(byId("by-speaker"), "all", distinct(data.lines.map((line) => line.p))
    .map((p) => [p, (data.speakers && data.speakers[p]) || p]));
  fill(byId("by-locale"), "all", data.locales.map((locale, at) => [String(at), locale]));
  fill(byId("by-code"), "any", [
    ["state 1", "tight"], ["state 2", "overflows"], ["state 3", "missing"], ["any", "any finding"],
    ...distinct(data.findings.map((finding) => finding.code)).sort().map((code) => [`code ${code}`, code]),
  ]);
}

function filter() {
  const conversation = byId("by-conversation").value;
  const speaker = byId("by-speaker").value;
  const locale = byId("by-locale").value;
  const code = byId("by-code").value;
  const words = byId("by-text").value.trim().toLowerCase();
  const locales = locale === "" ? data.locales.map((_, at) => at) : [Number(locale)];
  const fits = (line, at) => {
    if (conversation && line.c !== conversation) return false;
    if (speaker && line.p !== speaker) return false;
    if (words && !line.k.toLowerCase().includes(words) &&
        !locales.some((l) => line.cells[l] && line.cells[l].t.toLowerCase().includes(words))) {
      return false;
    }
    if (code.startsWith("state ")) {
      return locales.some((l) => line.cells[l] && line.cells[l].s === Number(code.slice(6)));
    }
    if (code === "any") return locales.some((l) => found(at, l).length > 0);
    if (code) return locales.some((l) => found(at, l).some((f) => f.code === code.slice(5)));
    return true;
  };
  let shown = 0;
  data.lines.forEach((line, at) => {
    const is = fits(line, at);
    rows[at].hidden = !is;
    if (is) ++shown;
  });
  for (const body of byId("grid").tBodies) {
    body.hidden = ![...body.rows].slice(1).some((row) => !row.hidden);
  }
  for (const row of [byId("grid").tHead.rows[0], ...rows]) {
    [...row.cells].slice(1).forEach((cell, at) => { cell.hidden = !locales.includes(at); });
  }
  for (const item of byId("findings").children) {
    const finding = data.findings[item.dataset.finding];
    const line = finding.line === undefined ? null : data.lines[finding.line];
    item.hidden = Boolean(
      (line ? !fits(line, finding.line) : conversation || speaker || words) ||
      (locale !== "" && finding.locale !== data.locales[Number(locale)]) ||
      (code.startsWith("code ") && finding.code !== code.slice(5)));
  }
  byId("count").textContent = `${shown} of ${count(data.lines.length, "line")}`;
  if (!active || active.closest("[hidden]")) {
    setActive(byId("grid").querySelector("tbody:not([hidden]) tr:not([hidden]) td:not([hidden]) button.cell"));
  }
}

// --- findings

function describe(finding, parent) {
  const item = make("li", parent);
  const severity = make("span", item, finding.error ? "error" : "warning");
  if (finding.error) severity.className = "is-error";
  item.append(" ");
  make("code", item, finding.code);
  item.append(`: ${finding.message}`);
  if (finding.hint) item.append(` (${finding.hint})`);
  const place = make("span", item, ` ${finding.file}:${finding.row}:${finding.column}`);
  place.className = "place";
  return item;
}
function listFindings() {
  data.findings.forEach((finding, at) => {
    const item = describe(finding, byId("findings"));
    item.dataset.finding = at;
    if (finding.line === undefined || !data.locales.includes(finding.locale)) return;
    const button = make("button", item, `${finding.key || "line " + (finding.line + 1)}, ${finding.locale}`);
    button.type = "button";
    item.prepend(button, " ");
    button.addEventListener("click", () => open(finding.line, data.locales.indexOf(finding.locale)));
  });
  if (data.findings.length === 0) make("li", byId("findings"), "None.").dataset.finding = -1;
}

// --- one line in its box

const view = {
  cell: null, opener: null, marks: [], onsets: [], holds: [],
  time: 0, passed: 0, shown: -1, page: -1, playing: false, last: null,
};

function open(line, locale) {
  const cell = data.lines[line].cells[locale];
  if (!cell) return;
  stop();
  for (const other of byId("grid").querySelectorAll("[aria-pressed=true]")) {
    other.setAttribute("aria-pressed", "false");
  }
  const button = byId("grid").querySelector(`button[data-line="${line}"][data-locale="${locale}"]`);
  if (button) {
    button.setAttribute("aria-pressed", "true");
    setActive(button);
    view.opener = button;
  }
  view.cell = cell;
  const source = data.lines[line];
  const tag = data.locales[locale];
  byId("viewer").hidden = false;
  byId("viewer-title").textContent = `${source.k || "line " + (line + 1)}, ${tag}`;
  const about = [source.c, (data.speakers && data.speakers[source.p]) || source.p, states[cell.s]];
  if (cell.f !== undefined) about.push(`${cell.f} % of the box`);
  if (cell.pages > 1) about.push(`${cell.pages} pages`);
  if (cell.r) about.push(`${(cell.r / 10).toFixed(0)} letters a second`);
  byId("viewer-about").textContent = about.filter((word) => word).join(" · ");
  byId("words").textContent = cell.s === 3 ? `(no text in ${tag}; the source's is shown) ${cell.t}` : cell.t;
  byId("words").lang = cell.s === 3 ? data.source : tag;
  byId("words").dir = "auto";
  const others = byId("viewer-locales");
  others.replaceChildren();
  data.locales.forEach((other, at) => {
    if (!source.cells[at]) return;
    const choice = make("button", others, other);
    choice.type = "button";
    choice.setAttribute("aria-pressed", String(at === locale));
    choice.addEventListener("click", () => {
      open(line, at);
      byId("viewer-locales").querySelector("[aria-pressed=true]").focus();
    });
  });
  const list = byId("viewer-findings");
  list.replaceChildren();
  for (const finding of found(line, locale)) describe(finding, list);
  stage(cell, tag);
  byId("time").max = cell.d;
  seek(cell.d);
  byId("told").textContent = "";
}

function stage(cell, tag) {
  const svg = document.createElementNS(svgNames, "svg");
  svg.setAttribute("viewBox", `0 0 ${Math.max(cell.w / 10, 1)} ${Math.max(cell.h / 10, 1)}`);
  svg.setAttribute("role", "img");
  svg.setAttribute("aria-label", `The line in its box: ${cell.t}`);
  svg.setAttribute("lang", tag);
  view.marks = [];
  for (let at = 0; at < cell.g.length; at += 6) {
    const [glyph, x, y, step, look, page] = cell.g.slice(at, at + 6);
    const shape = data.glyphs[glyph];
    const style = data.styles[look];
    const size = style.z && style.z !== 1 ? ` scale(${style.z})` : "";
    const attributes = { transform: `translate(${x / 10} ${y / 10})${size}`, class: "now" };
    if (style.c) attributes.fill = style.c;
    if (style.b) attributes["font-weight"] = "bold";
    if (style.i) attributes["font-style"] = "italic";
    let mark;
    if (shape.d) {
      mark = draw("path", svg, { d: shape.d, ...attributes });
    } else {
      mark = draw("text", svg, attributes);
      mark.textContent = shape.t;
    }
    view.marks.push({ mark, step, page });
  }
  view.marks.sort((a, b) => a.step - b.step);
  byId("stage").replaceChildren(svg);
  let sum = 0;
  view.onsets = cell.o.map((later) => (sum += later));
  view.holds = [];
  for (let at = 0; at < (cell.h_ || []).length; at += 2) {
    view.holds.push({ time: cell.h_[at], step: cell.h_[at + 1] });
  }
  view.shown = view.page = -1;
}

// How many steps are there at this time, with so many holds passed.
function stepsAt(time) {
  const hold = view.holds[view.passed];
  let low = 0;
  let high = view.onsets.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (view.onsets[middle] <= time) low = middle + 1; else high = middle;
  }
  return hold ? Math.min(low, hold.step) : low;
}
// The page of what comes from a step on, and of the last glyph before it: blanks have none.
function pageFrom(step) {
  const next = view.marks.find((mark) => mark.step >= step) || view.marks.at(-1);
  return next ? next.page : 0;
}
function pageBefore(step) {
  const last = view.marks.findLast((mark) => mark.step < step);
  return last ? last.page : 0;
}

function show() {
  const shown = stepsAt(view.time);
  let page = pageBefore(shown);
  if (view.passed > 0) page = Math.max(page, pageFrom(view.holds[view.passed - 1].step));
  if (shown !== view.shown || page !== view.page) {
    for (const { mark, step, page: of } of view.marks) {
      const seen = step < shown && of === page;
      if (mark.style.opacity !== (seen ? "1" : "0")) mark.style.opacity = seen ? "1" : "0";
    }
    view.shown = shown;
    view.page = page;
  }
  byId("time").value = view.time;
  byId("time").setAttribute("aria-valuetext", `${(view.time / 1000).toFixed(1)} seconds, ${shown} characters`);
  byId("clock").textContent = `${(view.time / 1000).toFixed(2)} / ${(view.cell.d / 1000).toFixed(2)} s`;
}

function seek(time) {
  view.time = time;
  view.passed = view.holds.filter((hold) => hold.time < time || time >= view.cell.d).length;
  byId("go-on").disabled = true;
  show();
}

function isHolding() {
  const hold = view.holds[view.passed];
  return Boolean(hold) && view.time >= hold.time;
}

function tick(now) {
  if (!view.playing) return;
  if (view.last !== null) view.time += Math.max(now - view.last, 0);
  view.last = now;
  const hold = view.holds[view.passed];
  if (hold && view.time >= hold.time) {
    view.time = hold.time;
    stop();
    show();
    byId("go-on").disabled = false;
    byId("told").textContent = "The line holds here.";
    byId("go-on").focus();
    return;
  }
  if (view.time >= view.cell.d) {
    view.time = view.cell.d;
    stop();
    show();
    byId("told").textContent = "The line is done.";
    return;
  }
  show();
  requestAnimationFrame(tick);
}

function start() {
  view.playing = true;
  view.last = null;
  byId("play").textContent = "Pause";
  byId("told").textContent = "";
  requestAnimationFrame(tick);
}
function stop() {
  view.playing = false;
  byId("play").textContent = "Play";
}

function listen() {
  byId("grid").addEventListener("click", (event) => {
    const button = event.target.closest("button.cell");
    if (!button) return;
    open(Number(button.dataset.line), Number(button.dataset.locale));
    byId("viewer-title").focus({ preventScroll: true });
  });
  byId("grid").addEventListener("focusin", (event) => {
    const button = event.target.closest("button.cell");
    if (button) setActive(button);
  });
  byId("grid").addEventListener("keydown", moveFocus);
  for (const kind of ["input", "change"]) byId("filters").addEventListener(kind, filter);
  byId("filters").addEventListener("reset", () => setTimeout(filter));
  byId("filters").addEventListener("submit", (event) => event.preventDefault());
  byId("play").addEventListener("click", () => {
    if (view.playing) return stop();
    if (isHolding()) return byId("go-on").click();
    if (view.time >= view.cell.d) {
      view.time = 0;
      view.passed = 0;
    }
    start();
  });
  byId("go-on").addEventListener("click", () => {
    if (!isHolding()) return;
    ++view.passed;
    byId("go-on").disabled = true;
    byId("play").focus();
    start();
  });
  byId("whole").addEventListener("click", () => {
    stop();
    seek(view.cell.d);
  });
  byId("time").addEventListener("input", () => {
    stop();
    seek(Number(byId("time").value));
  });
  byId("close").addEventListener("click", () => {
    stop();
    byId("viewer").hidden = true;
    if (view.opener) {
      view.opener.setAttribute("aria-pressed", "false");
      view.opener.focus();
    }
  });
  byId("viewer").addEventListener("keydown", (event) => {
    if (event.key === "Escape") byId("close").click();
  });
}

listLocales();
listLines();
listFilters();
listFindings();
listen();
filter();
})();
