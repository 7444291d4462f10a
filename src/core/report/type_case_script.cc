#include "report/type_case_page.h"

namespace burnisher::report {

const char* const kTypeCaseScript = R"js(
const get = id => document.getElementById(id);
const key = 'case ' + sheet.id;
const X0 = 0, X1 = 1, READ = 2, SURE = 3, PILE = 4, NAME = 5, BROKEN = 6;
const found = sheet.piles.length;        // piles that were sorted; those made here come behind them
let singles = found;                     // the last pile: what was taken out, joined or parted
let at = 0, chosen = 0, parting = null;  // pile, place in it, place of the cut in thousandths
let past = [];
const column = place => sheet.margin + sheet.xHeight * place / 1000;
const placeOf = column => Math.round(1000 * (column - sheet.margin) / sheet.xHeight);
const same = (a, b) => a[0] === b[0] && a[1][X0] === b[1][X0] && a[1][X1] === b[1][X1];

// What was changed before, kept by the browser.
try {
  for (const [l, glyphs, typed] of JSON.parse(localStorage.getItem(key)) || [])
    if (sheet.lines[l]) { sheet.lines[l].glyphs = glyphs; sheet.lines[l].typed = typed; sheet.lines[l].changed = true; }
} catch (e) { /* private window */ }
function countPiles() {
  sorted = null;
  singles = found;
  for (const line of sheet.lines) for (const g of line.glyphs) singles = Math.max(singles, g[PILE] + 1);
}
function keep() {
  const changed = [];
  sheet.lines.forEach((line, l) => { if (line.changed) changed.push([l, line.glyphs, line.typed]); });
  try { localStorage.setItem(key, JSON.stringify(changed)); } catch (e) { /* private window */ }
}

// The pictures of a pile as [line, glyph]: in their order, the most typical first. Sorted once for
// all piles, until something changes.
let sorted = null;
function pictures(p) {
  if (!sorted) {
    sorted = [...Array(singles + 1)].map(() => []);
    const byPlace = sheet.lines.map(() => new Map());
    sheet.lines.forEach((line, l) => line.glyphs.forEach(g => {
      if (g[PILE] < 0 || g[PILE] >= found) sorted[g[PILE] < 0 ? singles : g[PILE]].push([l, g]);
      else byPlace[l].set(g[X0], g);
    }));
    sheet.piles.forEach((pile, k) => pile.forEach(([l, x0]) => {
      const glyph = byPlace[l].get(x0);
      if (glyph && glyph[PILE] === k) sorted[k].push([l, glyph]);
    }));
  }
  return sorted[p] || [];
}
const current = () => pictures(at)[chosen];
const open = g => !g[NAME] && !g[BROKEN];

// Lines are changed as a whole, so that undo can put them back.
function change(lines, what) {
  past.push({at, chosen, lines: lines.map(l => [l, JSON.stringify(sheet.lines[l].glyphs), sheet.lines[l].typed])});
  what();
  countPiles();
  lines.forEach(l => { sheet.lines[l].changed = true; });
  keep();
  show();
}
function undo() {
  const last = past.pop();
  if (!last) return;
  for (const [l, glyphs, typed] of last.lines) { sheet.lines[l].glyphs = JSON.parse(glyphs); sheet.lines[l].typed = typed; }
  at = last.at;
  chosen = last.chosen;
  countPiles();
  keep();
  show();
}

// A picture of a glyph with a little of its neighbours.
function cutOf(l, g, zoom, beside) {
  const line = sheet.lines[l], cut = document.createElement('div'), picture = document.createElement('img');
  const x0 = column(g[X0]), x1 = column(g[X1]), left = x0 - beside;
  cut.className = 'cut';
  picture.alt = '';
  picture.src = line.src;
  cut.style.width = zoom * (x1 - x0 + 2 * beside) + 'px';
  cut.style.height = zoom * sheet.height + 'px';
  picture.style.left = -zoom * left + 'px';
  picture.style.width = zoom * line.width + 'px';
  cut.append(picture);
  for (const side of ['left', 'right']) {
    const veil = document.createElement('i');
    veil.style[side] = 0;
    veil.style.width = zoom * beside + 'px';
    cut.append(veil);
  }
  return cut;
}

function readOf(list) {
  const counts = {};
  for (const [, g] of list) counts[g[READ]] = (counts[g[READ]] || 0) + 1;
  return Object.keys(counts).sort((a, b) => counts[b] - counts[a])[0] || '';
}
function nameOf(list) {
  const names = [...new Set(list.filter(([, g]) => !g[BROKEN]).map(([, g]) => g[NAME]))];
  return names.length === 1 ? names[0] : '';
}

function showList() {
  const list = get('list');
  list.textContent = '';
  for (let p = 0; p <= singles; ++p) {
    const all = pictures(p);
    if (!all.length && p !== at) continue;
    const button = document.createElement('button'), count = document.createElement('small'), label = document.createElement('span');
    button.dataset.pile = p;
    button.tabIndex = -1;
    button.setAttribute('aria-current', p === at);
    count.textContent = all.length;
    button.append(count);
    if (all.length) button.append(cutOf(all[0][0], all[0][1], 0.7, 3));
    const name = p === singles ? '' : nameOf(all);
    label.className = name ? 'name' : 'read';
    label.textContent = p === singles ? 'single ones' : name ? '= ' + name : all.every(([, g]) => !open(g)) ? 'done' : readOf(all);
    button.append(label);
    button.onclick = () => go(p);
    list.append(button);
    if (p === at) button.scrollIntoView({block: 'nearest'});
  }
  let named = 0, all = 0;
  for (const line of sheet.lines) for (const g of line.glyphs) { ++all; named += !open(g); }
  get('done').textContent = named + ' of ' + all + ' glyphs done';
}

// So many pictures at a time: those round the chosen one.
const most = 240;
function showGrid(list) {
  const grid = get('grid'), first = Math.floor(chosen / most) * most;
  grid.textContent = '';
  list.slice(first, first + most).forEach(([l, g], i) => {
    const k = first + i, button = document.createElement('button'), name = document.createElement('b');
    button.className = g[BROKEN] ? 'broken' : g[NAME] ? 'named' : '';
    button.setAttribute('aria-current', k === chosen);
    button.setAttribute('aria-label', 'picture ' + (k + 1) + ', read as ' + (g[READ] || 'nothing') + ', ' + g[SURE] + ' % sure');
    button.title = (g[READ] || 'nothing') + ', ' + g[SURE] + ' % sure';
    button.tabIndex = -1;
    name.textContent = g[BROKEN] ? '' : g[NAME];
    button.append(cutOf(l, g, 1.2, 4), name);
    button.onclick = () => { chosen = k; parting = null; show(); };
    grid.append(button);
    if (k === chosen) button.scrollIntoView({block: 'nearest'});
  });
  if (list.length <= most) return;
  const parts = document.createElement('p');
  parts.textContent = 'pictures ' + (first + 1) + ' to ' + Math.min(list.length, first + most) + ' of ' + list.length + ' ';
  for (const [text, to] of [['before', first - most], ['next', first + most], ['least typical', list.length - 1]]) {
    if (to < 0 || to >= list.length || (text === 'least typical' && to < first + most)) continue;
    const button = document.createElement('button');
    button.textContent = text;
    button.onclick = () => { chosen = to; show(); };
    parts.append(button, ' ');
  }
  grid.append(parts);
}

// A line with its cuts.
function stripOf(l, zoom, strip, chosenGlyph, action) {
  const line = sheet.lines[l], picture = document.createElement('img');
  strip.textContent = '';
  picture.src = line.src;
  picture.alt = line.read;
  picture.style.width = zoom * line.width + 'px';
  strip.style.width = zoom * line.width + 'px';
  strip.append(picture);
  line.glyphs.forEach(g => {
    const button = document.createElement('button'), name = document.createElement('span');
    button.className = g[BROKEN] ? 'broken' : g[NAME] ? 'named' : '';
    button.tabIndex = -1;
    button.title = (g[NAME] || g[READ] || 'nothing') + ', ' + g[SURE] + ' %';
    button.setAttribute('aria-label', button.title);
    button.setAttribute('aria-current', g === chosenGlyph);
    button.style.left = zoom * column(g[X0]) + 'px';
    button.style.width = zoom * (column(g[X1]) - column(g[X0])) + 'px';
    button.style.height = zoom * sheet.height + 'px';
    name.textContent = g[BROKEN] ? '' : g[NAME];
    button.append(name);
    button.onclick = event => action(g, event, button);
    strip.append(button);
  });
}

function showPile() {
  const list = pictures(at);
  chosen = Math.max(0, Math.min(chosen, list.length - 1));
  const one = list[chosen];
  showGrid(list);
  get('where').textContent = !list.length ? 'Nothing is here.' : at === singles ? list.length + ' single pictures: joined, parted or taken out'
    : 'pile ' + (at + 1) + ' of ' + singles + ': ' + list.length + (list.length === 1 ? ' picture' : ' pictures') + ', read as \u201c' + readOf(list) + '\u201d, ' +
      Math.round(list.reduce((sum, [, g]) => sum + g[SURE], 0) / list.length) + ' % sure';
  get('name').value = one ? one[1][NAME] : '';
  get('line').hidden = !one;
  if (!one) { get('how').textContent = ''; return; }
  const [l, g] = one, line = sheet.lines[l];
  get('how').textContent = parting === null
    ? line.file + ', line ' + line.number + ', read as: ' + line.read
    : 'Click where it is to be parted, or move the cut with the arrows and press Enter; Esc leaves it whole.';
  stripOf(l, 2, get('strip'), g, (glyph, event, button) => {
    if (parting !== null && glyph === g) {
      partAt(placeOf(column(g[X0]) + (event.clientX - button.getBoundingClientRect().left) / 2));
      return;
    }
    at = glyph[PILE] < 0 ? singles : glyph[PILE];
    chosen = pictures(at).findIndex(other => same(other, [l, glyph]));
    parting = null;
    show();
  });
  if (parting !== null) {
    const cut = document.createElement('i');
    cut.id = 'parting';
    Object.assign(cut.style, {position: 'absolute', top: 0, bottom: 0, width: '2px', background: '#e65100',
                              zIndex: 2, left: 2 * column(parting) + 'px'});
    get('strip').append(cut);
  }
  get('line').scrollLeft = 2 * column(g[X0]) - get('line').clientWidth / 2;
}

function showLines() {
  const view = get('lineview');
  view.textContent = '';
  sheet.lines.forEach((line, l) => {
    const row = document.createElement('div'), strip = document.createElement('div'), about = document.createElement('p');
    const scroll = document.createElement('div'), typed = document.createElement('input');
    row.className = 'row';
    strip.className = 'strip';
    scroll.className = 'scroll';
    about.textContent = line.file + ', line ' + line.number + ': ' + line.read;
    stripOf(l, 1.4, strip, null, glyph => {
      at = glyph[PILE] < 0 ? singles : glyph[PILE];
      chosen = pictures(at).findIndex(other => same(other, [l, glyph]));
      toggleLines();
    });
    typed.value = line.typed;
    typed.dir = 'auto';
    typed.placeholder = 'or type the whole line here';
    typed.setAttribute('aria-label', 'the whole of line ' + line.number);
    typed.onchange = () => change([l], () => { line.typed = typed.value.trim().replace(/\s+/g, ' '); });
    scroll.append(strip);
    row.append(about, scroll, typed);
    view.append(row);
  });
}

function showLetters() {
  const names = {};
  for (const line of sheet.lines) for (const g of line.glyphs) if (g[NAME]) names[g[NAME]] = (names[g[NAME]] || 0) + 1;
  const used = Object.keys(names).sort((a, b) => names[b] - names[a]);
  const letters = [...used, ...[...sheet.letters].filter(c => !names[c])];
  const box = get('letters');
  box.textContent = '';
  for (const letter of letters) {
    const button = document.createElement('button');
    button.textContent = letter;
    button.tabIndex = -1;
    button.onclick = () => { const name = get('name'); name.setRangeText(letter, name.selectionStart, name.selectionEnd, 'end'); name.focus(); };
    box.append(button);
  }
}

function show() {
  if (at > singles) at = singles;
  showList();
  if (get('lineview').hidden) { showPile(); showLetters(); }
}
function go(p) {
  at = Math.max(0, Math.min(singles, p));
  chosen = 0;
  parting = null;
  show();
}
// The next pile with something open in it; in the last one, the next open picture.
function onward() {
  for (let step = 1; step <= singles + 1; ++step) {
    const p = (at + step) % (singles + 1);
    if (pictures(p).some(([, g]) => open(g))) { at = p; break; }
  }
  chosen = Math.max(0, pictures(at).findIndex(([, g]) => open(g)));
  parting = null;
  show();
}

// Everything of the pile that nobody said something else about; of the single ones, the chosen.
function nameAll(text) {
  text = text.normalize('NFC').trim();
  const list = pictures(at);
  if (!text || !list.length) return;
  if (at === singles) { nameOne(text); return; }
  const before = nameOf(list);
  const which = list.filter(([, g]) => !g[BROKEN] && (!g[NAME] || g[NAME] === before));
  change([...new Set(which.map(([l]) => l))], () => which.forEach(([, g]) => { g[NAME] = text; }));
  onward();
}
function nameOne(text) {
  text = text.normalize('NFC').trim();
  const one = current();
  if (!text || !one) return;
  change([one[0]], () => { one[1][NAME] = text; one[1][BROKEN] = 0; if (at !== singles) one[1][PILE] = -1; });
  if (at === singles) onward();
}
function acceptRead() {
  const list = pictures(at), read = at === singles ? (current() || [0, []])[1][READ] : readOf(list);
  if (read) nameAll(read);
}
function takeOut() {
  const one = current();
  if (one && at !== singles) change([one[0]], () => { one[1][PILE] = -1; one[1][NAME] = ''; });
}
function setBroken() {
  const list = concerned();
  if (!list.length) return;
  const broken = list[0][1][BROKEN] ? 0 : 1;
  change([...new Set(list.map(([l]) => l))], () => list.forEach(([, g]) => { g[BROKEN] = broken; g[NAME] = ''; }));
  if (alike()) { onward(); return; }
  chosen += 1;
  show();
}
function choose(l, glyph) {
  at = glyph[PILE] < 0 ? singles : glyph[PILE];
  chosen = pictures(at).findIndex(other => same(other, [l, glyph]));
}
// The chosen picture, or all of its pile alike; a pile of their own is made of the latter.
const alike = () => get('alike').checked && at !== singles;
const concerned = () => alike() ? pictures(at) : [current()].filter(one => one);
function replace(list, change_one) {
  const pile = alike() ? singles : -1, lines = [...new Set(list.map(([l]) => l))];
  let last = null;
  change(lines, () => {
    for (const [l, g] of list) {
      const glyphs = sheet.lines[l].glyphs, k = glyphs.indexOf(g);
      if (k < 0) continue;  // joined with one before
      const made = change_one(glyphs, k, pile);
      if (made) last = [l, made];
    }
    countPiles();
    if (last) choose(...last);
  });
}
function join(step) {
  replace(concerned(), (glyphs, k, pile) => {
    const other = glyphs[k + step];
    if (!other || other[NAME] || other[BROKEN]) return null;
    const first = step > 0 ? k : k - 1, left = glyphs[first], right = glyphs[first + 1];
    const joined = [left[X0], right[X1], left[READ] + right[READ], Math.min(left[SURE], right[SURE]), pile, '', 0];
    glyphs.splice(first, 2, joined);
    return joined;
  });
}
function beginParting() {
  const one = current();
  if (!one) return;
  parting = Math.round((one[1][X0] + one[1][X1]) / 2);
  get('name').blur();
  show();
}
function partAt(place) {
  const one = current();
  parting = null;
  if (!one || place <= one[1][X0] + 30 || place >= one[1][X1] - 30) { show(); return; }
  const share = (place - one[1][X0]) / (one[1][X1] - one[1][X0]);
  replace(concerned(), (glyphs, k, pile) => {
    const g = glyphs[k], middle = Math.round(g[X0] + share * (g[X1] - g[X0]));
    const left = [g[X0], middle, '', 0, pile, '', 0];
    glyphs.splice(k, 1, left, [middle, g[X1], '', 0, pile < 0 ? -1 : pile + 1, '', 0]);
    return left;
  });
}
function toggleLines() {
  const lines = get('lineview').hidden;
  get('lineview').hidden = !lines;
  get('pile').hidden = lines;
  parting = null;
  if (lines) showLines();
  show();
}

function caseTable() {
  const rows = [['file', 'line', 'x', 'y', 'from', 'to', 'what', 'text']];
  for (const line of sheet.lines) {
    const start = [line.file, line.number, line.x.toFixed(1), line.y.toFixed(1)];
    if (line.typed) rows.push([...start, '', '', 'line', line.typed]);
    for (const g of line.glyphs) if (g[NAME] || g[BROKEN])
      rows.push([...start, (g[X0] / 1000).toFixed(3), (g[X1] / 1000).toFixed(3), g[BROKEN] ? 'broken' : 'glyph', g[BROKEN] ? '' : g[NAME]]);
  }
  return rows.map(row => row.join('\t')).join('\n') + '\n';
}
function save() {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([caseTable()], {type: 'text/tab-separated-values'}));
  link.download = 'case.tsv';
  link.click();
  URL.revokeObjectURL(link.href);
}

const actions = {
  ArrowLeft: () => { chosen -= 1; show(); }, ArrowRight: () => { chosen += 1; show(); },
  'Shift ArrowLeft': () => join(-1), 'Shift ArrowRight': () => join(1), 'Shift ArrowDown': beginParting,
  PageUp: () => go(at - 1), PageDown: () => go(at + 1), Backspace: takeOut, Delete: setBroken, ' ': acceptRead,
  Tab: () => { get('name').focus(); get('name').select(); }};
document.addEventListener('keydown', event => {
  const control = event.ctrlKey || event.metaKey;
  if (control && event.key === 'z' && (event.target.tagName !== 'INPUT' || event.target.type === 'checkbox')) { undo(); event.preventDefault(); return; }
  if (control && event.key === 's') { save(); event.preventDefault(); return; }
  if (control || event.altKey) return;
  if (event.key === 'F2') { toggleLines(); event.preventDefault(); return; }
  if (event.key === 'F4') { get('alike').checked = !get('alike').checked; event.preventDefault(); return; }
  if (event.target.tagName === 'INPUT' && event.target.type !== 'checkbox') {
    if (event.key === 'Escape') event.target.blur();
    return;
  }
  if (!get('lineview').hidden) return;
  if (parting !== null) {
    const [, g] = current();
    if (event.key === 'ArrowLeft') parting = Math.max(g[X0] + 40, parting - 30);
    else if (event.key === 'ArrowRight') parting = Math.min(g[X1] - 40, parting + 30);
    else if (event.key === 'Enter') { partAt(parting); event.preventDefault(); return; }
    else if (event.key === 'Escape') parting = null;
    else return;
    event.preventDefault();
    show();
    return;
  }
  const action = actions[(event.shiftKey ? 'Shift ' : '') + event.key];
  if (action) action();
  else if ([...event.key].length === 1 && event.key !== ' ') nameAll(event.key);  // named with one key
  else return;
  event.preventDefault();
});
get('form').addEventListener('submit', event => {
  event.preventDefault();
  const text = get('name').value;
  get('name').blur();
  nameAll(text);
});
const clicks = {one: () => nameOne(get('name').value), accept: acceptRead, next: () => go(at + 1), out: takeOut, broken: setBroken,
  joinleft: () => join(-1), joinright: () => join(1), part: beginParting, lines: toggleLines, undo, save};
for (const id in clicks) get(id).onclick = event => { event.currentTarget.blur(); clicks[id](); };
document.title = sheet.title;
get('title').textContent = sheet.title;
show();
)js";

}  // namespace burnisher::report
