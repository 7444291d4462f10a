#include "report/layout_page.h"

namespace burnisher::report {

const char* const kLayoutView = R"js(
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
