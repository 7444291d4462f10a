#include "report/layout_page.h"

namespace burnisher::report {

const char* const kLayoutMarks = R"js(
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

)js";

}  // namespace burnisher::report
