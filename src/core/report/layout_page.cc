#include "report/layout_page.h"

namespace burnisher::report {

const char* const kLayoutStyle = R"css(
body { margin: 0; display: grid; grid-template: auto 1fr / 11rem 1fr 17rem; height: 100vh; }
header { grid-column: 1 / 4; display: flex; gap: 0.45rem; align-items: center; flex-wrap: wrap;
  padding: 0.4rem 0.8rem; background: #263238; color: #fff; font-size: 0.8rem; }
header h1 { font-size: 1rem; margin: 0; }
button, select { font: inherit; cursor: pointer; }
#looked { min-width: 8rem; }
nav { overflow-y: auto; border-right: 1px solid #cfcac0; background: #f2efe8; }
nav button { display: block; width: 100%; border: 0; background: none; padding: 0.4rem;
  text-align: left; font-size: 0.8rem; }
nav button[aria-current=true] { background: #fff; outline: 2px solid #00695c; outline-offset: -2px; }
nav img { background: #fff; border: 1px solid #cfcac0; max-width: 90px; }
nav .worth { color: #b23c00; }
nav .state { color: #00695c; }
#view { overflow: auto; background: #dcd7cc; position: relative; }
#stage { position: relative; margin: 0.8rem auto; transform-origin: 0 0; background: #fff; }
#stage img { width: 100%; max-width: none; display: block; user-select: none; }
#stage svg { position: absolute; inset: 0; width: 100%; height: 100%; touch-action: none; }
#stage.out img { opacity: 0.25; }
polygon.block { stroke-width: 2; vector-effect: non-scaling-stroke; cursor: move; }
polygon.block.selected { stroke-width: 4; }
.line { fill: #00695c22; stroke: #00695c; vector-effect: non-scaling-stroke; }
.line.selected { fill: #ffb74d88; stroke: #e65100; stroke-width: 2; }
.rule { stroke: #6a1b9a; stroke-width: 3; vector-effect: non-scaling-stroke; cursor: col-resize; }
.rule.selected { stroke: #e65100; stroke-width: 5; }
.cell { fill: transparent; stroke: none; }
.cell.selected { fill: #ffb74d66; }
.cell.head { fill: #6a1b9a22; }
.handle { fill: #fff; stroke: #263238; vector-effect: non-scaling-stroke; cursor: nwse-resize; }
.path { fill: none; stroke: #263238; stroke-width: 1.5; vector-effect: non-scaling-stroke;
  stroke-dasharray: 5 4; pointer-events: none; }
.number { pointer-events: none; font-weight: 700; fill: #fff; text-anchor: middle; }
.disc { pointer-events: none; fill: #263238; }
.draft { fill: #ffb74d44; stroke: #e65100; stroke-width: 2; vector-effect: non-scaling-stroke; }
aside { overflow-y: auto; padding: 0.7rem; border-left: 1px solid #cfcac0; background: #f2efe8;
  font-size: 0.8rem; }
aside h2 { font-size: 0.8rem; margin: 0.6rem 0 0.2rem; }
aside button { text-align: left; padding: 0.1rem 0.3rem; }
#tools, #kinds, #blocks, #page { display: grid; grid-template-columns: 1fr 1fr; gap: 0.15rem; }
#tools { grid-template-columns: 1fr; }
aside button[aria-pressed=true] { outline: 3px solid #00695c; }
aside .swatch { display: inline-block; width: 0.8rem; height: 0.8rem; margin-right: 0.35rem; }
kbd { font: 0.72rem 'DejaVu Sans Mono', monospace; background: #eceff1; color: #263238;
  border: 1px solid #90a4ae; border-radius: 3px; padding: 0 0.3em; margin-right: 0.35em; }
#say { min-height: 2.6em; color: #5d5a52; }
)css";

const char* const kLayoutBody = R"html(
<header>
<h1 id="title"></h1>
<span id="looked" aria-live="polite"></span>
<label>pages <select id="sort"><option value="look">worth a look first</option>
<option value="order">in their order</option></select></label>
<button id="before"><kbd>,</kbd>before</button>
<button id="after"><kbd>.</kbd>next</button>
<button id="undo"><kbd>u</kbd>undo</button>
<button id="redo"><kbd>U</kbd>redo</button>
<button id="smaller"><kbd>-</kbd>smaller</button>
<button id="larger"><kbd>+</kbd>larger</button>
<button id="fit"><kbd>f</kbd>whole page</button>
<button id="save"><kbd>d</kbd>save layout</button>
</header>
<nav id="list" aria-label="pages"></nav>
<div id="view" tabindex="0"><div id="stage"><img id="picture" alt="the page"><svg id="draw"></svg></div></div>
<aside>
<p id="say" aria-live="polite"></p>
<h2>Tools</h2><div id="tools"></div>
<h2>Kind</h2><div id="kinds"></div>
<h2>Blocks</h2><div id="blocks"></div>
<h2>Page</h2><div id="page"></div>
</aside>
)html";

const char* const kLayoutScript = R"js(
const get = id => document.getElementById(id);
const NS = 'http://www.w3.org/2000/svg';
const store = 'layout ' + sheet.id;
const colours = {text: '#1565c0', heading: '#c62828', caption: '#00838f', footnote: '#5d4037',
  'running-head': '#7b8b00', 'page-number': '#546e7a', 'margin-note': '#ad1457', table: '#6a1b9a',
  picture: '#2e7d32', noise: '#9e9e9e', separator: '#9e9e9e', 'drop-capital': '#1565c0'};
const copy = value => JSON.parse(JSON.stringify(value));
const fresh = page => ({blocks: copy(page.blocks), turn: 0, out: false, touched: false});

let marks = {};            // by page: what it is to be, where it was changed
let looked = {};           // pages that were shown
let stencil = null;        // blocks kept to be laid over other pages
let past = [], future = []; // [page, state before (after)]
let at = 0;                // page
let chosen = [];           // blocks
let tool = 'select', kind = 'text', zoom = 1;
let part = null;           // of the chosen block: {lines: [...]}, {rule: ['rows', i]}, {cells: [r, c, r, c]}
let clicked = [];          // blocks in their new order
let draft = [];            // corners of a polygon being drawn
let drag = null, pointer = [0, 0];

try {
  const kept = JSON.parse(localStorage.getItem(store)) || {};
  marks = kept.marks || {}; looked = kept.looked || {}; stencil = kept.stencil || null;
} catch (e) { /* nothing was kept */ }

const page = () => sheet.pages[at];
const state = () => marks[page().name] || fresh(page());
function keep() {
  try { localStorage.setItem(store, JSON.stringify({marks, looked, stencil})); } catch (e) { /* full */ }
}
function say(text) { get('say').textContent = text; }

// Every change goes through here: it can be taken back.
function change(work, name = page().name, one = true) {
  const own = sheet.pages.find(one => one.name === name);
  const before = marks[name] ? copy(marks[name]) : null;
  const next = copy(marks[name] || fresh(own));
  if (work(next) === false) return;
  next.touched = true;
  past.push([name, before]);
  future = [];
  marks[name] = next;
  if (!one) return;  // of many
  keep();
  show();
}
function step(from, to) {
  const last = from.pop();
  if (!last) return say('nothing to take back');
  const [name, was] = last;
  to.push([name, marks[name] ? copy(marks[name]) : null]);
  if (was) marks[name] = was; else delete marks[name];
  at = sheet.pages.findIndex(one => one.name === name);
  chosen = []; part = null;
  keep(); showEntries(); show();
}

// ---- geometry
const bounds = points => {
  const xs = points.map(p => p[0]), ys = points.map(p => p[1]);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
};
const corners = b => [[b[0], b[1]], [b[2], b[1]], [b[2], b[3]], [b[0], b[3]]];
const middle = b => [(b[0] + b[2]) / 2, (b[1] + b[3]) / 2];
const round = points => points.map(p => [Math.round(p[0]), Math.round(p[1])]);
function inside(outline, p) {
  let odd = false;
  for (let i = 0, k = outline.length - 1; i < outline.length; k = i++) {
    const a = outline[i], b = outline[k];
    if ((a[1] > p[1]) !== (b[1] > p[1]) &&
        p[0] < (b[0] - a[0]) * (p[1] - a[1]) / (b[1] - a[1]) + a[0]) odd = !odd;
  }
  return odd;
}
// The part of an outline on one side of a level (axis 1) or upright (axis 0) line.
function side(outline, axis, value, below) {
  const keepIt = p => below ? p[axis] >= value : p[axis] <= value;
  const result = [];
  outline.forEach((a, i) => {
    const b = outline[(i + 1) % outline.length];
    if (keepIt(a)) result.push(a);
    if (keepIt(a) !== keepIt(b)) {
      const t = (value - a[axis]) / (b[axis] - a[axis]);
      result.push([a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])]);
    }
  });
  return round(result);
}
const moved = (points, dx, dy) => points.map(p => [Math.round(p[0] + dx), Math.round(p[1] + dy)]);
const allLines = blocks => blocks.flatMap(b => b.lines || []);

// ---- what is done to blocks
function add(outline) {
  change(s => {
    s.blocks.push({kind, level: 0, outline: round(outline), fresh: true});
    chosen = [s.blocks.length - 1];
  });
  part = null;
}
function remove() {
  if (part && part.lines && chosen.length === 1)
    return change(s => {
      const b = s.blocks[chosen[0]];
      b.lines = b.lines.filter((_, i) => !part.lines.includes(i));
      b.linesSaid = true; part = null;
    });
  if (part && part.rule && chosen.length === 1)
    return change(s => {
      s.blocks[chosen[0]][part.rule[0]].splice(part.rule[1], 1);
      s.blocks[chosen[0]].gridSaid = true; part = null;
    });
  if (!chosen.length) return say('choose a block first');
  change(s => { s.blocks = s.blocks.filter((_, i) => !chosen.includes(i)); chosen = []; });
}
function setKind(name) {
  kind = name;
  if (!chosen.length) return showSide();
  change(s => chosen.forEach(i => { s.blocks[i].kind = name; }));
}
function join() {
  if (part && part.lines && part.lines.length > 1)
    return change(s => {
      const b = s.blocks[chosen[0]], boxes = part.lines.map(i => b.lines[i]);
      const whole = bounds(boxes.flatMap(corners));
      b.lines = b.lines.filter((_, i) => !part.lines.includes(i)).concat([whole]);
      b.lines.sort((x, y) => x[1] - y[1] || x[0] - y[0]);
      b.linesSaid = true; part = null;
    });
  if (part && part.cells)
    return change(s => {
      const b = s.blocks[chosen[0]], [r0, c0, r1, c1] = part.cells;
      const apart = j => j[0] > r1 || j[1] > c1 || j[0] + j[2] <= r0 || j[1] + j[3] <= c0;
      b.joined = (b.joined || []).filter(apart);
      if (r1 > r0 || c1 > c0) b.joined.push([r0, c0, r1 - r0 + 1, c1 - c0 + 1]);
      b.gridSaid = true; part = null;
    });
  if (chosen.length < 2) return say('choose the blocks to join');
  change(s => {
    const own = chosen.slice().sort((a, b) => a - b), first = own[0];
    const joined = s.blocks[first];
    joined.outline = corners(bounds(own.flatMap(i => s.blocks[i].outline)));
    joined.lines = own.flatMap(i => s.blocks[i].lines || []);
    s.blocks = s.blocks.filter((_, i) => i === first || !own.includes(i));
    chosen = [first];
  });
}
function cut(point, upright) {
  const s0 = state(), i = s0.blocks.findIndex(b => inside(b.outline, point));
  if (i < 0) return say('cut inside a block; with Shift from top to bottom');
  change(s => {
    const b = s.blocks[i], axis = upright ? 0 : 1, value = point[axis];
    const second = copy(b);
    b.outline = side(b.outline, axis, value, false);
    second.outline = side(second.outline, axis, value, true);
    const lines = b.lines || [];
    b.lines = lines.filter(l => inside(b.outline, middle(l)));
    second.lines = lines.filter(l => inside(second.outline, middle(l)));
    s.blocks.splice(i + 1, 0, second);
    chosen = [i, i + 1];
  });
}
function cutLine(point) {
  const b = state().blocks[chosen[0]];
  const i = (b.lines || []).findIndex(l => inside(corners(l), point));
  if (i < 0) return false;
  change(s => {
    const own = s.blocks[chosen[0]], [x0, y0, x1, y1] = own.lines[i], x = Math.round(point[0]);
    own.lines.splice(i, 1, [x0, y0, x, y1], [x, y0, x1, y1]);
    own.linesSaid = true; part = null;
  });
  return true;
}
function onlyThese() {
  if (!chosen.length) return say('choose what is to stay');
  change(s => { s.blocks = s.blocks.filter((_, i) => chosen.includes(i)); chosen = s.blocks.map((_, i) => i); });
}
function toEnd(front) {
  if (!chosen.length) return say('choose a block first');
  change(s => {
    const own = chosen.slice().sort((a, b) => a - b).map(i => s.blocks[i]);
    const rest = s.blocks.filter((_, i) => !chosen.includes(i));
    s.blocks = front ? own.concat(rest) : rest.concat(own);
    chosen = own.map(b => s.blocks.indexOf(b));
  });
}
function orderClick(i) {
  if (clicked.includes(i)) return;
  const s0 = state(), block = s0.blocks[i];
  change(s => {
    s.blocks.splice(i, 1);
    s.blocks.splice(clicked.length, 0, copy(block));
  });
  clicked.push(clicked.length);
  say(clicked.length + ' in their new order; Esc ends');
}
function headRow() {
  change(s => {
    let any = false;
    chosen.forEach(i => {
      const b = s.blocks[i];
      if (b.kind !== 'table') return;
      b.header = b.header ? 0 : 1; b.rows = b.rows || []; b.columns = b.columns || [];
      b.gridSaid = any = true;
    });
    if (!any) { say('choose a table'); return false; }
  });
}
function level() {
  change(s => chosen.forEach(i => {
    const b = s.blocks[i];
    b.kind = 'heading'; b.level = (b.level || 0) % 6 + 1;
    say('heading of level ' + b.level);
  }));
}

// ---- pages
function sameAsBefore() {
  if (at === 0) return say('no page comes before');
  const before = marks[sheet.pages[at - 1].name] || fresh(sheet.pages[at - 1]);
  layOver(before.blocks, origin(sheet.pages[at - 1]), [at]);
}
// The text frame of a page as it was read.
function frameOf(p) {
  const lines = allLines(p.blocks);
  return lines.length ? bounds(lines.flatMap(corners)) : null;
}
const origin = p => ({width: p.width, height: p.height, frame: frameOf(p)});
// Blocks of one page over others: moved and scaled so that the text frames lie on each other. Says
// which pages they do not fit: where more than a seventh of the lines lies outside.
function layOver(blocks, from, places) {
  const misfits = [];
  places.forEach(n => {
    const target = sheet.pages[n], lines = allLines(target.blocks);
    let map = p => [p[0] * target.width / from.width, p[1] * target.height / from.height];
    if (lines.length && from.frame) {
      const a = from.frame, b = frameOf(target);
      const scale = Math.max(0.88, Math.min(1.12, (b[2] - b[0]) / Math.max(1, a[2] - a[0])));
      map = p => [b[0] + (p[0] - a[0]) * scale, b[1] + (p[1] - a[1]) * scale];
    }
    const laid = blocks.map(b => ({kind: b.kind, level: b.level || 0, outline: round(b.outline.map(map)),
      ...(b.rows ? {rows: b.rows.map(y => Math.round(map([0, y])[1])),
        columns: (b.columns || []).map(x => Math.round(map([x, 0])[0])), header: b.header || 0,
        joined: copy(b.joined || []), gridSaid: true} : {})}));
    const out = lines.filter(l => !laid.some(b => inside(b.outline, middle(l)))).length;
    if (out > lines.length / 7) misfits.push(target.name);
    laid.forEach(b => { b.lines = lines.filter(l => inside(b.outline, middle(l))); });
    change(s => { s.blocks = laid; }, target.name, false);
  });
  chosen = [];
  keep(); showEntries(); show();
  say('laid over ' + places.length + (places.length === 1 ? ' page' : ' pages') +
      (misfits.length ? '; does not fit ' + misfits.join(', ') : ''));
}
function placesIn(text) {
  const count = sheet.pages.length, all = [...Array(count).keys()];
  if (text === 'all') return all;
  if (text === 'odd') return all.filter(n => n % 2 === 0);
  if (text === 'even') return all.filter(n => n % 2 === 1);
  return all.filter(n => text.split(',').some(span => {
    const [a, b] = span.split('-');
    const end = b === undefined ? a : b;
    return n + 1 >= Number(a) && n + 1 <= (end === '' ? count : Number(end));
  }));
}
function layStencil(range) {
  if (!stencil) return say('keep a page as stencil first');
  const text = range || prompt('Over which pages? all, odd, even, or as in 3-9,12', 'all');
  if (text) layOver(stencil.blocks, stencil.from, placesIn(text.trim()));
}

function layoutFile() {
  const pages = sheet.pages.filter(p => marks[p.name] && marks[p.name].touched).map(p => {
    const s = marks[p.name], one = {page: p.name, seen: p.seen};
    if (s.turn % 360) one.turn = s.turn % 360;
    if (s.out) one.leave_out = true;
    one.blocks = s.blocks.map(b => ({kind: b.kind, level: b.level || 0, outline: b.outline,
      ...(b.linesSaid ? {lines: b.lines || []} : {}),
      ...(b.gridSaid ? {rows: b.rows || [], columns: b.columns || [], header: b.header || 0,
        joined: b.joined || []} : {})}));
    return one;
  });
  return JSON.stringify({format: 'burnisher-layout-1', pages}, null, 1) + '\n';
}
function save() {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([layoutFile()], {type: 'application/json'}));
  link.download = 'layout.json';
  link.click();
  say('saved as layout.json; `burnisher amend` lays it over the job');
}

// ---- showing
function element(name, attributes, parent, data) {
  const e = document.createElementNS(NS, name);
  for (const [key, value] of Object.entries(attributes)) e.setAttribute(key, value);
  if (data) Object.assign(e.dataset, data);
  parent.append(e);
  return e;
}
function grid(b) {
  const [x0, y0, x1, y1] = bounds(b.outline);
  return {xs: [x0, ...(b.columns || []), x1], ys: [y0, ...(b.rows || []), y1]};
}
function showTable(svg, b, i, own) {
  const {xs, ys} = grid(b);
  for (let r = 0; r + 1 < ys.length; ++r)
    for (let c = 0; c + 1 < xs.length; ++c) {
      const sel = own && part && part.cells && r >= part.cells[0] && c >= part.cells[1] &&
        r <= part.cells[2] && c <= part.cells[3];
      element('rect', {class: 'cell' + (sel ? ' selected' : '') + (r < (b.header || 0) ? ' head' : ''),
        x: xs[c], y: ys[r], width: Math.max(0, xs[c + 1] - xs[c]),
        height: Math.max(0, ys[r + 1] - ys[r])}, svg, {block: i, row: r, column: c});
    }
  const covered = (r, c, horizontal) => (b.joined || []).some(([jr, jc, jh, jw]) => horizontal
    ? r > jr && r < jr + jh && c >= jc && c < jc + jw
    : c > jc && c < jc + jw && r >= jr && r < jr + jh);
  const rule = (axis, n, from, to) => {
    const sel = own && part && part.rule && part.rule[0] === axis && part.rule[1] === n;
    const value = b[axis][n];
    element('line', axis === 'columns' ? {x1: value, x2: value, y1: from, y2: to}
      : {y1: value, y2: value, x1: from, x2: to}, svg, {block: i, axis, rule: n})
      .setAttribute('class', 'rule' + (sel ? ' selected' : ''));
  };
  (b.columns || []).forEach((_, n) => {
    for (let r = 0; r + 1 < ys.length; ++r)
      if (!covered(r, n + 1, false)) rule('columns', n, ys[r], ys[r + 1]);
  });
  (b.rows || []).forEach((_, n) => {
    for (let c = 0; c + 1 < xs.length; ++c)
      if (!covered(n + 1, c, true)) rule('rows', n, xs[c], xs[c + 1]);
  });
}
function show() {
  const p = page(), s = state(), svg = get('draw');
  const picture = get('picture');
  if (picture.dataset.page !== p.name) {
    picture.dataset.page = p.name;
    picture.src = p.src;
  }
  get('stage').className = s.out ? 'out' : '';
  get('stage').style.width = p.width * zoom + 'px';
  get('stage').style.height = p.height * zoom + 'px';
  get('stage').style.rotate = s.turn ? -s.turn + 'deg' : '';
  get('stage').style.transformOrigin = 'center';
  svg.setAttribute('viewBox', '0 0 ' + p.width + ' ' + p.height);
  svg.textContent = '';
  const unit = 1 / zoom;
  s.blocks.forEach((b, i) => {
    const own = chosen.includes(i), colour = colours[b.kind] || '#1565c0';
    const e = element('polygon', {points: b.outline.map(q => q.join(',')).join(' '),
      class: 'block' + (own ? ' selected' : '')}, svg, {block: i});
    e.style.fill = colour + (own ? '44' : '1c');
    e.style.stroke = colour;
    if (b.kind === 'table' && (b.rows || b.columns)) showTable(svg, b, i, own);
    if (tool === 'line' || own) (b.lines || []).forEach((l, n) => element('rect', {
      class: 'line' + (own && part && part.lines && part.lines.includes(n) ? ' selected' : ''),
      x: l[0], y: l[1], width: l[2] - l[0], height: l[3] - l[1]}, svg, {block: i, line: n})
      .style.setProperty('pointer-events', tool === 'line' && own ? 'auto' : 'none'));
  });
  const ordered = s.blocks.filter(b => b.kind !== 'noise' && b.kind !== 'separator');
  const path = ordered.map(b => middle(bounds(b.outline)).join(','));
  element('polyline', {class: 'path', points: path.join(' ')}, svg);
  let number = 0;
  ordered.forEach(b => {
    const box = bounds(b.outline), x = box[0] - 8 * unit, y = box[1] - 6 * unit;
    element('circle', {class: 'disc', cx: x, cy: y, r: 9 * unit}, svg);
    const text = element('text', {class: 'number', x, y: y + 4 * unit,
      'font-size': 12 * unit}, svg);
    text.textContent = ++number;
  });
  if (tool === 'select' && chosen.length === 1) {
    const b = s.blocks[chosen[0]];
    const box = bounds(b.outline), square = b.outline.length === 4;
    const points = square ? corners(box) : b.outline;
    points.forEach((q, n) => element('rect', {class: 'handle', x: q[0] - 5 * unit, y: q[1] - 5 * unit,
      width: 10 * unit, height: 10 * unit}, svg, {handle: n, square: square ? 1 : ''}));
  }
  if (draft.length) element('polyline', {class: 'draft',
    points: draft.concat([pointer]).map(q => q.join(',')).join(' ')}, svg);
  if (drag && drag.box) element('polygon', {class: 'draft',
    points: corners(drag.box).map(q => q.join(',')).join(' ')}, svg);
  showSide();
}
function button(parent, keyText, label, press, pressed) {
  const b = document.createElement('button'), k = document.createElement('kbd');
  k.textContent = keyText;
  b.append(k, label);
  b.onclick = () => { press(); get('view').focus(); };
  if (pressed !== undefined) b.setAttribute('aria-pressed', pressed);
  parent.append(b);
  return b;
}
const tools = [['v', 'choose, move, resize', 'select'], ['r', 'draw a rectangle', 'rectangle'],
  ['p', 'draw a polygon', 'polygon'], ['c', 'cut in two', 'cut'], ['l', 'lines of a block', 'line'],
  ['t', 'table: add rules, join cells', 'table'], ['o', 'order: click one by one', 'order']];
function setTool(name) {
  tool = name; draft = []; clicked = []; part = null;
  say({select: 'Shift adds; arrows move by a pixel', rectangle: 'drag from corner to corner',
    polygon: 'click the corners, Enter closes', cut: 'click where to cut; Shift: from top to bottom',
    line: 'of the chosen block: drag draws a line, Shift-click cuts one, j joins, Del deletes',
    table: 'click adds a column rule, Shift-click a row rule, drag moves; drag over cells, then j',
    order: 'click the blocks in the order of reading'}[name]);
  show();
}
function showSide() {
  const s = state();
  const fill = (id, work) => { const e = get(id); e.textContent = ''; work(e); };
  fill('tools', e => tools.forEach(([k, label, name]) =>
    button(e, k, label, () => setTool(name), tool === name)));
  fill('kinds', e => sheet.kinds.forEach((name, i) => {
    const now = chosen.length ? chosen.every(n => s.blocks[n] && s.blocks[n].kind === name) : kind === name;
    const b = button(e, String((i + 1) % 10), name, () => setKind(name), now);
    const swatch = document.createElement('span');
    swatch.className = 'swatch';
    swatch.style.background = colours[name];
    b.insertBefore(swatch, b.lastChild);
  }));
  fill('blocks', e => [['Del', 'delete', remove], ['j', 'join', join], ['k', 'only these', onlyThese],
    ['a', 'choose all', chooseAll], ['Home', 'to front', () => toEnd(true)],
    ['End', 'to end', () => toEnd(false)], ['h', 'heading level', level],
    ['e', 'head row', headRow]].forEach(([k, label, press]) => button(e, k, label, press)));
  fill('page', e => {
    button(e, 'q', 'turn by 90°' + (s.turn ? ' (' + s.turn + '°)' : ''), turn);
    button(e, 'w', 'leave out', leaveOut, s.out);
    [['b', 'blank', blank], ['s', 'as the page before', sameAsBefore], ['S', 'keep as stencil', keepStencil],
      ['L', 'lay stencil over pages', () => layStencil()]]
      .forEach(([k, label, press]) => button(e, k, label, press));
  });
}
const turn = () => change(s => { s.turn = (s.turn + 90) % 360; });
const leaveOut = () => { change(s => { s.out = !s.out; }); showEntries(); };
const blank = () => { chosen = []; change(s => { s.blocks = []; }); };
const chooseAll = () => { chosen = state().blocks.map((_, i) => i); show(); };
function keepStencil() {
  stencil = {blocks: copy(state().blocks.filter(b => b.kind !== 'noise')),
    from: origin(page())};
  keep();
  say(stencil.blocks.length + ' blocks kept as stencil');
}

function sequence() {
  const all = sheet.pages.map((_, i) => i);
  if (get('sort').value === 'look')
    all.sort((a, b) => (sheet.pages[b].worth.length > 0) - (sheet.pages[a].worth.length > 0) || a - b);
  return all;
}
let entries = [];
function showList() {
  const list = get('list');
  list.textContent = '';
  entries = [];
  sequence().forEach(n => {
    const p = sheet.pages[n], b = document.createElement('button');
    const img = document.createElement('img');
    img.loading = 'lazy'; img.alt = ''; img.src = p.thumb;
    const name = document.createElement('div'), worth = document.createElement('div');
    name.textContent = (n + 1) + '  ' + p.name;
    worth.className = 'worth';
    worth.textContent = p.worth.join('; ');
    const st = document.createElement('div');
    st.className = 'state';
    b.append(img, name, worth, st);
    b.tabIndex = -1;
    b.onclick = () => go(n);
    list.append(b);
    entries[n] = [b, st];
  });
  showEntries();
}
function showEntries() {
  entries.forEach(([b, st], n) => {
    const m = marks[sheet.pages[n].name];
    b.setAttribute('aria-current', n === at);
    st.textContent = (m && m.touched ? (m.out ? 'left out' : 'changed') : looked[sheet.pages[n].name] ? 'looked at' : '');
  });
  if (entries[at]) entries[at][0].scrollIntoView({block: 'nearest'});
  get('looked').textContent = Object.keys(looked).length + ' of ' + sheet.pages.length + ' looked at';
}
function go(n) {
  if (n < 0 || n >= sheet.pages.length) return;
  at = n; chosen = []; part = null; draft = []; clicked = [];
  looked[page().name] = true;
  keep(); showEntries(); fitPage();
}
function along(step) {
  const all = sequence(), next = all[all.indexOf(at) + step];
  if (next !== undefined) go(next);
}
function fitPage() {
  const view = get('view');
  zoom = Math.min((view.clientWidth - 30) / page().width, (view.clientHeight - 30) / page().height);
  show();
}
function scale(by) {
  const view = get('view'), x = view.scrollLeft + view.clientWidth / 2, y = view.scrollTop + view.clientHeight / 2;
  zoom = Math.max(0.05, Math.min(4, zoom * by));
  show();
  view.scrollTo(x * by - view.clientWidth / 2, y * by - view.clientHeight / 2);
}

// ---- mouse
function place(e) {
  const m = get('draw').getScreenCTM().inverse(), q = new DOMPoint(e.clientX, e.clientY).matrixTransform(m);
  return [Math.max(0, Math.min(page().width, q.x)), Math.max(0, Math.min(page().height, q.y))].map(Math.round);
}
const boxOf = (a, b) => [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[0], b[0]), Math.max(a[1], b[1])];

get('draw').addEventListener('pointerdown', e => {
  if (e.button !== 0) return;
  get('view').focus();
  const p = place(e), d = e.target.dataset, i = d.block === undefined ? -1 : Number(d.block);
  e.preventDefault();
  get('draw').setPointerCapture(e.pointerId);
  if (tool === 'polygon') { draft.push(p); return show(); }
  if (tool === 'rectangle') { drag = {from: p, box: boxOf(p, p), draw: true}; return; }
  if (tool === 'cut') return cut(p, e.shiftKey);
  if (tool === 'order') { if (i >= 0) orderClick(i); return; }
  if (tool === 'table' && i >= 0) {
    if (state().blocks[i].kind !== 'table') return say('choose a table, or make the block one (8)');
    chosen = [i];
    if (d.rule !== undefined) { part = {rule: [d.axis, Number(d.rule)]}; drag = {from: p, rule: true}; return show(); }
    drag = {from: p, cell: d.row === undefined ? null : [Number(d.row), Number(d.column)], shift: e.shiftKey};
    return show();
  }
  if (tool === 'line' && chosen.length === 1) {
    if (e.shiftKey && cutLine(p)) return;
    if (d.line !== undefined) {
      const n = Number(d.line), had = part && part.lines ? part.lines : [];
      part = {lines: had.includes(n) ? had.filter(x => x !== n) : had.concat([n])};
      return show();
    }
    if (i === chosen[0] || i < 0) { part = null; drag = {from: p, box: boxOf(p, p), line: true}; return; }
  }
  if (d.handle !== undefined) { drag = {from: p, handle: Number(d.handle), square: d.square, was: copy(state().blocks[chosen[0]].outline)}; return; }
  if (d.rule !== undefined && chosen.includes(i)) { part = {rule: [d.axis, Number(d.rule)]}; chosen = [i]; drag = {from: p, rule: true}; return show(); }
  if (i >= 0) {
    if (e.shiftKey || e.ctrlKey) chosen = chosen.includes(i) ? chosen.filter(n => n !== i) : chosen.concat([i]);
    else if (!chosen.includes(i)) chosen = [i];
    part = null;
    drag = {from: p, move: true};
    return show();
  }
  chosen = []; part = null;
  drag = {pan: [e.clientX, e.clientY], scroll: [get('view').scrollLeft, get('view').scrollTop]};
  show();
});
get('draw').addEventListener('pointermove', e => {
  pointer = place(e);
  if (draft.length) return show();
  if (!drag) return;
  if (drag.pan) {
    get('view').scrollTo(drag.scroll[0] + drag.pan[0] - e.clientX, drag.scroll[1] + drag.pan[1] - e.clientY);
    return;
  }
  if (drag.box) { drag.box = boxOf(drag.from, pointer); return show(); }
  drag.far = drag.far || Math.hypot(pointer[0] - drag.from[0], pointer[1] - drag.from[1]) * zoom > 3;
  if (drag.cell && drag.far && e.target) {
    const over = document.elementsFromPoint(e.clientX, e.clientY).find(x => x.dataset && x.dataset.row !== undefined);
    if (over) {
      const r = Number(over.dataset.row), c = Number(over.dataset.column);
      part = {cells: [Math.min(r, drag.cell[0]), Math.min(c, drag.cell[1]), Math.max(r, drag.cell[0]), Math.max(c, drag.cell[1])]};
      show();
    }
  }
});
get('draw').addEventListener('pointerup', e => {
  const d = drag, p = place(e);
  drag = null;
  if (!d || d.pan) return;
  const dx = p[0] - d.from[0], dy = p[1] - d.from[1];
  if (d.box) {
    if (d.box[2] - d.box[0] < 4 || d.box[3] - d.box[1] < 4) return show();
    if (d.draw) { add(corners(d.box)); return setTool('select'); }
    return change(s => {
      const b = s.blocks[chosen[0]];
      b.lines = (b.lines || []).concat([d.box]).sort((x, y) => x[1] - y[1] || x[0] - y[0]);
      b.linesSaid = true;
    });
  }
  if (d.rule && d.far) return change(s => {
    const b = s.blocks[chosen[0]], [axis, n] = part.rule;
    b[axis][n] = axis === 'columns' ? p[0] : p[1];
    b[axis].sort((x, y) => x - y);
    b.gridSaid = true;
  });
  if (d.cell !== undefined && !d.far) return change(s => {
    const b = s.blocks[chosen[0]], axis = d.shift ? 'rows' : 'columns';
    b.rows = b.rows || []; b.columns = b.columns || [];
    b[axis].push(d.shift ? p[1] : p[0]);
    b[axis].sort((x, y) => x - y);
    b.gridSaid = true;
  });
  if (d.handle !== undefined && d.far) return change(s => {
    const b = s.blocks[chosen[0]];
    if (d.square) {
      const box = bounds(d.was), opposite = corners(box)[(d.handle + 2) % 4];
      b.outline = corners(boxOf(opposite, p));
    } else b.outline[d.handle] = p;
  });
  if (d.move && d.far) return change(s => chosen.forEach(i => { s.blocks[i].outline = moved(s.blocks[i].outline, dx, dy); }));
  show();
});
get('draw').addEventListener('dblclick', () => { if (draft.length > 2) closePolygon(); });
get('view').addEventListener('wheel', e => {
  if (!e.ctrlKey) return;
  e.preventDefault();
  scale(e.deltaY < 0 ? 1.15 : 1 / 1.15);
}, {passive: false});
function closePolygon() {
  const outline = draft;
  draft = [];
  if (outline.length > 2) { add(outline); setTool('select'); }
}

// ---- keys
const keys = {v: () => setTool('select'), r: () => setTool('rectangle'), p: () => setTool('polygon'),
  c: () => setTool('cut'), l: () => setTool('line'), t: () => setTool('table'), o: () => setTool('order'),
  Delete: remove, Backspace: remove, j: join, k: onlyThese, a: chooseAll, Home: () => toEnd(true),
  End: () => toEnd(false), h: level, e: headRow, q: turn, w: leaveOut, b: blank, s: sameAsBefore,
  S: keepStencil, L: () => layStencil(), u: () => step(past, future), U: () => step(future, past),
  ',': () => along(-1), '.': () => along(1), PageUp: () => along(-1), PageDown: () => along(1),
  '+': () => scale(1.2), '=': () => scale(1.2), '-': () => scale(1 / 1.2), f: fitPage, d: save,
  Enter: byKey, Escape: () => { chosen = []; setTool('select'); }, n: chooseNext, N: () => chooseNext(-1)};
// What the mouse would do at a place is done in the middle: a block there, a cut there, a rule there.
function byKey() {
  const p = page(), own = chosen.length === 1 && state().blocks[chosen[0]];
  if (tool === 'polygon') return closePolygon();
  if (tool === 'rectangle') {
    add(corners([p.width * 0.3, p.height * 0.4, p.width * 0.7, p.height * 0.5]));
    return setTool('select');
  }
  if (!own) return say('choose a block first');
  if (tool === 'cut') cut(middle(bounds(own.outline)), false);
  if (tool === 'table' && own.kind === 'table') change(s => {
    const b = s.blocks[chosen[0]], {xs} = grid(b);
    let widest = 0;
    for (let c = 1; c + 1 < xs.length; ++c)
      if (xs[c + 1] - xs[c] > xs[widest + 1] - xs[widest]) widest = c;
    b.rows = b.rows || []; b.columns = b.columns || [];
    b.columns.push(Math.round((xs[widest] + xs[widest + 1]) / 2));
    b.columns.sort((x, y) => x - y);
    b.gridSaid = true;
  });
}
// By keyboard alone: one block after the other.
function chooseNext(by = 1) {
  const count = state().blocks.length;
  if (!count) return;
  const now = chosen.length ? chosen[chosen.length - 1] : by > 0 ? -1 : 0;
  chosen = [(now + (by === -1 ? -1 : 1) + count) % count];
  part = null;
  show();
}
document.addEventListener('keydown', e => {
  if (e.target.tagName === 'SELECT' || e.target.tagName === 'INPUT') return;
  if (e.ctrlKey || e.metaKey) {
    if (e.key === 'z') { e.preventDefault(); step(past, future); }
    if (e.key === 'y') { e.preventDefault(); step(future, past); }
    return;
  }
  if (/^[0-9]$/.test(e.key)) { e.preventDefault(); return setKind(sheet.kinds[(Number(e.key) + 9) % 10]); }
  const arrows = {ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1]}[e.key];
  if (arrows) {
    if (!chosen.length) return;
    e.preventDefault();
    const by = e.shiftKey ? 10 : 1;
    // With Alt the far corner moves: resizing by keyboard.
    return change(s => chosen.forEach(i => {
      const b = s.blocks[i];
      if (!e.altKey) { b.outline = moved(b.outline, by * arrows[0], by * arrows[1]); return; }
      const box = bounds(b.outline);
      b.outline = corners([box[0], box[1], box[2] + by * arrows[0], box[3] + by * arrows[1]]);
    }));
  }
  const press = keys[e.key];
  if (!press) return;
  e.preventDefault();
  press();
});

get('title').textContent = sheet.title;
get('before').onclick = () => along(-1);
get('after').onclick = () => along(1);
get('undo').onclick = () => step(past, future);
get('redo').onclick = () => step(future, past);
get('smaller').onclick = () => scale(1 / 1.2);
get('larger').onclick = () => scale(1.2);
get('fit').onclick = fitPage;
get('save').onclick = save;
get('sort').onchange = showList;
window.addEventListener('resize', fitPage);
showList();
if (sheet.pages.length) go(sequence()[0]);
setTool('select');
)js";

}  // namespace burnisher::report
