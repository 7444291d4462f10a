#include "report/proof_page.h"

namespace burnisher::report {

const char* const kProofStyle = R"css(
body { margin: 0; display: grid; grid-template: auto 1fr / 15rem 1fr; height: 100vh; }
header { grid-column: 1 / 3; display: flex; gap: 0.8rem; align-items: center; flex-wrap: wrap;
  padding: 0.6rem 1rem; background: #263238; color: #fff; }
header h1 { font-size: 1rem; margin: 0; }
header button, header select { font: inherit; }
#done { min-width: 8rem; }
#bar { width: 7rem; height: 0.5rem; background: #546e7a; }
#bar div { height: 100%; width: 0; background: #ffb74d; }
nav { overflow-y: auto; border-right: 1px solid #cfcac0; background: #f2efe8; }
nav button { display: flex; width: 100%; gap: 0.5rem; padding: 0.25rem 0.8rem; border: 0;
  background: none; font: inherit; text-align: left; cursor: pointer; }
nav button[aria-current=true] { background: #fff; font-weight: 600; }
nav .state { min-width: 1.2rem; color: #00695c; }
nav .word { font-family: 'DejaVu Serif', serif; overflow: hidden; text-overflow: ellipsis; }
main { overflow: auto; padding: 1rem 1.5rem; }
#where, #reason { color: #5d5a52; margin: 0.3rem 0; }
#picture { position: relative; overflow: hidden; background: #fff; border: 1px solid #cfcac0;
  height: 9rem; }
#picture img { position: absolute; max-width: none; }
#frame { position: absolute; border: 3px solid #e65100; border-radius: 3px; }
#text { font: 1.25rem/1.6 'DejaVu Serif', serif; margin: 0.6rem 0; }
#text mark { background: #ffe0b2; padding: 0 0.15em; }
#choices { display: flex; flex-wrap: wrap; gap: 0.5rem; margin: 0.8rem 0; }
#choices button { font: 1.05rem 'DejaVu Serif', serif; padding: 0.35rem 0.8rem; cursor: pointer; }
#choices button[aria-pressed=true] { outline: 3px solid #00695c; }
kbd { font: 0.75rem 'DejaVu Sans Mono', monospace; background: #eceff1; color: #263238;
  border: 1px solid #90a4ae; border-radius: 3px; padding: 0 0.3em; margin-right: 0.35em; }
#typed { font: 1.1rem 'DejaVu Serif', serif; width: 20rem; padding: 0.3rem; }
.row { display: flex; gap: 0.8rem; align-items: center; flex-wrap: wrap; margin: 0.6rem 0; }
.row button { font: inherit; padding: 0.25rem 0.7rem; cursor: pointer; }
#pageview { display: none; margin-top: 1rem; }
#strips { display: flex; align-items: end; gap: 2px; height: 3.2rem; overflow-x: auto; }
#strips button { flex: 0 0 auto; width: 1.1rem; padding: 0; border: 0; background: #cfcac0;
  cursor: pointer; }
#strips button.open { background: #e6510099; }
#strips button[aria-current=true] { outline: 3px solid #00695c; }
#leaf { position: relative; }
#leaf img { display: block; max-width: none; }
#leaf button { position: absolute; border: 0; background: none; padding: 0; cursor: text; }
#leaf button:hover { background: #00695c22; }
#leaf button.suspect { border: 2px solid #e65100; background: #e6510022; cursor: pointer; }
#leaf button.settled { border: 2px solid #00695c; background: #00695c22; }
#leaf button.found { background: #fff17699; }
#leaf button[aria-current=true] { border-width: 4px; }
#leaf form { position: absolute; z-index: 2; background: #fff; border: 2px solid #00695c;
  padding: 0.2rem; box-shadow: 0 2px 8px #0006; white-space: nowrap; }
#leaf form input { font: 1.05rem 'DejaVu Serif', serif; }
)css";

const char* const kProofBody = R"html(
<header>
<h1 id="title"></h1>
<span id="done" aria-live="polite"></span>
<div id="bar"><div></div></div>
<label>order <select id="order"><option value="reading">of reading</option>
<option value="doubt">most doubtful first</option></select></label>
<label title="the same decision for this reading everywhere in the document"><input type="checkbox" id="same"> <kbd>s</kbd>same everywhere</label>
<button id="leafview"><kbd>v</kbd>page</button>
<button id="undo"><kbd>u</kbd>undo</button>
<button id="save"><kbd>d</kbd>save decisions</button>
</header>
<nav id="list" aria-label="suspect words"></nav>
<main>
<p id="where"></p>
<div id="picture"><img alt="" id="strip"><div id="frame"></div></div>
<p id="text"></p>
<p id="reason"></p>
<div id="choices"></div>
<form class="row" id="form">
<label><kbd>e</kbd>type it <input id="typed" dir="auto" autocomplete="off" spellcheck="false"></label>
<button type="submit"><kbd>Enter</kbd>take what is typed</button>
</form>
<div class="row">
<button id="before"><kbd>&larr;</kbd>back</button>
<button id="after"><kbd>&rarr;</kbd>next</button>
<button id="leave"><kbd>o</kbd>leave open</button>
<button id="lexicon"><kbd>l</kbd>right, and into the lexicon</button>
<button id="remove"><kbd>x</kbd>no word: remove it</button>
</div>
<section id="pageview">
<div id="strips" role="group" aria-label="suspect words of each page"></div>
<div class="row">
<button id="pagebefore"><kbd>PgUp</kbd>page before</button>
<button id="pageafter"><kbd>PgDn</kbd>next page</button>
<span id="pagename"></span>
<label><kbd>/</kbd>search in the page <input id="search" autocomplete="off" spellcheck="false"></label>
<span id="hits" aria-live="polite"></span>
<span>Click any word to put it right; Shift: its line as a whole.</span>
</div>
<div id="leaf"><img alt="the page" id="leafpicture"></div>
</section>
</main>
)html";

const char* const kProofScript = R"js(
const get = id => document.getElementById(id);
const key = 'proof ' + sheet.id;
let decisions = {};     // by id: {verdict, text}
let past = [];          // what undo takes back: lists of [id, decision before]
let order = [];         // places in sheet.items
let leafAt = 0;         // page of the page view
let at = 0;             // place in order
try { decisions = JSON.parse(localStorage.getItem(key)) || {}; } catch (e) { decisions = {}; }

const item = () => sheet.items[order[at]];
const isDone = i => decisions[i.id] && decisions[i.id].verdict !== 'open';

function keep() {
  try { localStorage.setItem(key, JSON.stringify(decisions)); } catch (e) { /* private window */ }
}

function sortItems() {
  const current = order.length ? order[at] : 0;
  order = sheet.items.map((_, i) => i);
  if (get('order').value === 'doubt')
    order.sort((a, b) => sheet.items[b].error_probability - sheet.items[a].error_probability || a - b);
  at = Math.max(0, order.indexOf(current));
}

function mark(i) {
  const d = decisions[i.id];
  if (!d) return '';
  return {right: '=', change: '\u2192', lexicon: '+', open: '?'}[d.verdict];
}

function showList() {
  const list = get('list');
  list.textContent = '';
  order.forEach((n, place) => {
    const i = sheet.items[n], d = decisions[i.id];
    const button = document.createElement('button');
    const state = document.createElement('span'), word = document.createElement('span');
    state.className = 'state';
    state.textContent = mark(i);
    word.className = 'word';
    word.textContent = d && d.verdict === 'change' ? d.text || '(removed)' : i.read;
    button.append(state, word);
    button.tabIndex = -1;
    button.setAttribute('aria-current', place === at);
    button.onclick = () => go(place);
    list.append(button);
    if (place === at) button.scrollIntoView({block: 'nearest'});
  });
  const done = sheet.items.filter(isDone).length;
  get('done').textContent = done + ' of ' + sheet.items.length + ' decided';
  get('bar').firstElementChild.style.width = 100 * done / Math.max(1, sheet.items.length) + '%';
}

function showPicture(i) {
  const box = get('picture'), strip = get('strip'), frame = get('frame');
  box.style.display = i.strip === null ? 'none' : 'block';
  if (i.strip === null) return;
  const picture = sheet.strips[i.strip], [x, y, w, h] = i.inStrip;
  const zoom = Math.max(0.5, Math.min(4, 72 / h));
  const left = box.clientWidth / 2 - zoom * (x + w / 2), top = box.clientHeight / 2 - zoom * (y + h / 2);
  strip.src = picture.src;
  strip.style.width = zoom * picture.width + 'px';
  strip.style.left = left + 'px';
  strip.style.top = top + 'px';
  frame.style.left = left + zoom * x - 6 + 'px';
  frame.style.top = top + zoom * y - 6 + 'px';
  frame.style.width = zoom * w + 6 + 'px';
  frame.style.height = zoom * h + 6 + 'px';
}

function showText(i) {
  const text = get('text'), word = document.createElement('mark');
  word.textContent = i.read;
  text.textContent = '';
  text.append(i.lineBefore, word, i.lineAfter);
}

function choice(label, name, pressed, action) {
  const button = document.createElement('button'), sign = document.createElement('kbd');
  sign.textContent = label;
  button.append(sign, name);
  button.setAttribute('aria-pressed', pressed);
  button.onclick = action;
  get('choices').append(button);
}

function showChoices(i) {
  const d = decisions[i.id];
  get('choices').textContent = '';
  choice('Enter', 'right: ' + i.read, !!d && d.verdict === 'right', () => decide('right', ''));
  i.suggestions.slice(0, 9).forEach((text, n) => choice(String(n + 1), text,
      !!d && d.verdict === 'change' && d.text === text, () => decide('change', text)));
  get('typed').value = d && d.verdict === 'change' ? d.text : i.read;
}

// Words of a page: read, box in the scan, box in the leaf, number of the line, place among the
// suspects (-1: none).
const READ = 0, SCAN = 1, LEAF = 5, LINE = 9, ITEM = 10;
const keyOf = (p, n) => {
  const w = sheet.pages[p].words[n];
  return w[ITEM] >= 0 ? sheet.items[w[ITEM]].id : 'word ' + p + ' ' + n;
};
const textOf = (p, n) => {
  const d = decisions[keyOf(p, n)];
  return d && d.verdict === 'change' ? d.text : sheet.pages[p].words[n][READ];
};

function showLeaf() {
  const leaf = get('leaf'), page = sheet.pages[leafAt];
  leaf.querySelectorAll('button, form').forEach(b => b.remove());
  if (get('pageview').style.display !== 'block' || !page) return;
  get('pagename').textContent = page.name;
  get('leafpicture').src = page.src;
  get('leafpicture').style.minHeight = page.height + 'px';
  const wanted = get('search').value.trim().toLowerCase();
  let hits = 0;
  page.words.forEach((w, n) => {
    const button = document.createElement('button'), text = textOf(leafAt, n);
    const d = decisions[keyOf(leafAt, n)], found = wanted && text.toLowerCase().includes(wanted);
    hits += found ? 1 : 0;
    button.title = text;
    button.tabIndex = -1;
    button.dataset.word = n;
    button.className = (d && d.verdict !== 'open' ? 'settled' : w[ITEM] >= 0 ? 'suspect' : '') +
        (found ? ' found' : '');
    button.setAttribute('aria-label', text);
    button.setAttribute('aria-current', w[ITEM] >= 0 && w[ITEM] === order[at]);
    const [x, y, width, height] = w.slice(LEAF, LEAF + 4);
    Object.assign(button.style, {left: x - 3 + 'px', top: y - 3 + 'px', width: width + 6 + 'px',
                                 height: height + 6 + 'px'});
    button.onclick = event => event.shiftKey ? editLine(n)
        : w[ITEM] >= 0 ? go(order.indexOf(w[ITEM])) : editWord(n);
    button.ondblclick = () => editWord(n);
    leaf.append(button);
  });
  get('hits').textContent = wanted ? hits + (hits === 1 ? ' place' : ' places') : '';
}

function showStrips() {
  const strips = get('strips'), counts = sheet.pages.map(() => [0, 0]);
  sheet.items.forEach(i => { counts[i.leaf][0] += 1; counts[i.leaf][1] += isDone(i) ? 0 : 1; });
  const most = Math.max(1, ...counts.map(c => c[0]));
  strips.textContent = '';
  counts.forEach(([all, open], p) => {
    const button = document.createElement('button');
    button.title = sheet.pages[p].name + ': ' + all + ' suspect, ' + open + ' open';
    button.style.height = 12 + 88 * all / most + '%';
    button.className = open ? 'open' : '';
    button.setAttribute('aria-current', p === leafAt);
    button.onclick = () => toPage(p);
    strips.append(button);
  });
}

function toPage(p) {
  leafAt = Math.max(0, Math.min(sheet.pages.length - 1, p));
  get('pageview').style.display = 'block';
  showStrips();
  showLeaf();
}

// Several decisions that are taken back together.
function put(list) {
  past.push(list.map(([id]) => [id, decisions[id], at]));
  list.forEach(([id, text, read]) => {
    decisions[id] = text === read ? {verdict: 'right', text: ''} : {verdict: 'change', text};
  });
  keep();
  show();
}

function editor(x, y, text, done) {
  const leaf = get('leaf'), form = document.createElement('form'), input = document.createElement('input');
  leaf.querySelectorAll('form').forEach(f => f.remove());
  Object.assign(form.style, {left: Math.max(0, x) + 'px', top: y + 'px'});
  input.value = text;
  input.id = 'word';
  input.dir = 'auto';
  input.size = Math.max(8, Math.min(80, text.length + 4));
  form.append(input);
  form.onsubmit = event => {
    event.preventDefault();
    form.remove();
    done(input.value.trim().replace(/\s+/g, ' '));
  };
  input.onkeydown = event => {
    if (event.key === 'Escape') form.remove();
    event.stopPropagation();
  };
  leaf.append(form);
  input.focus();
  input.select();
}

function editWord(n) {
  const w = sheet.pages[leafAt].words[n];
  editor(w[LEAF] - 8, w[LEAF + 1] + w[LEAF + 3] + 6, textOf(leafAt, n),
         text => put([[keyOf(leafAt, n), text, w[READ]]]));
}

// The words of a line as typed: those that stay the same at either end are left alone, the first of
// the others becomes all that is new, the rest go.
function editLine(n) {
  const words = sheet.pages[leafAt].words, line = words[n][LINE];
  const own = words.map((_, k) => k).filter(k => words[k][LINE] === line);
  const before = own.map(k => textOf(leafAt, k));
  const first = words[own[0]];
  editor(first[LEAF] - 8, first[LEAF + 1] + first[LEAF + 3] + 8, before.filter(Boolean).join(' '), text => {
    const after = text ? text.split(' ') : [];
    let head = 0, tail = 0;
    while (head < own.length && head < after.length && before[head] === after[head]) ++head;
    while (tail < own.length - head && tail < after.length - head &&
           before[own.length - 1 - tail] === after[after.length - 1 - tail]) ++tail;
    let old = own.slice(head, own.length - tail);
    let fresh = after.slice(head, after.length - tail);
    if (!old.length && !fresh.length) return;
    if (!old.length) {  // put in between: with the word before, or the one behind
      const beside = head > 0 ? own[head - 1] : own[0];
      fresh = head > 0 ? [before[head - 1], ...fresh] : [...fresh, before[0]];
      old = [beside];
    }
    // One for one where the counts agree.
    put(old.map((k, i) => [keyOf(leafAt, k), fresh.length === old.length ? fresh[i]
      : i === 0 ? fresh.join(' ') : '', words[k][READ]]));
  });
}

function show() {
  showList();
  if (!sheet.items.length) {
    get('where').textContent = 'There is no suspect word in this document.';
    showStrips();
    showLeaf();
    return;
  }
  const i = item();
  get('where').textContent = (at + 1) + ' of ' + order.length + ', ' + sheet.pages[i.leaf].name;
  get('reason').textContent = i.reason + '; wrong with a likelihood of ' +
      Math.round(100 * i.error_probability) + ' %';
  showPicture(i);
  showText(i);
  showChoices(i);
  showStrips();
  showLeaf();
}

function go(place) {
  at = Math.max(0, Math.min(order.length - 1, place));
  if (sheet.items.length) leafAt = item().leaf;
  show();
}

function toNextOpen() {
  for (let step = 1; step <= order.length; ++step) {
    const place = (at + step) % order.length;
    if (!decisions[sheet.items[order[place]].id]) return go(place);
  }
  go(Math.min(at + 1, order.length - 1));
}

function decide(verdict, text) {
  if (!sheet.items.length) return;
  const current = item();
  if (verdict === 'change' && text === current.read) { verdict = 'right'; text = ''; }
  const all = get('same').checked && verdict !== 'open'
      ? sheet.items.filter(i => i.read === current.read) : [current];
  past.push(all.map(i => [i.id, decisions[i.id], at]));
  all.forEach(i => { decisions[i.id] = {verdict, text}; });
  keep();
  toNextOpen();
}

function undo() {
  const last = past.pop();
  if (!last) return;
  last.forEach(([id, before, place]) => {
    if (before) decisions[id] = before; else delete decisions[id];
    at = place;
  });
  keep();
  show();
}

function decisionsTable() {
  const rows = [['id', 'file', 'page', 'x', 'y', 'width', 'height', 'hash', 'read', 'decision', 'text']];
  sheet.items.forEach(i => {
    const d = decisions[i.id];
    if (d) rows.push([i.id, i.file, i.number, ...i.box, i.hash, i.read, d.verdict, d.text]);
  });
  sheet.pages.forEach((page, p) => page.words.forEach((w, n) => {
    const d = w[ITEM] < 0 && decisions[keyOf(p, n)];
    if (d) rows.push(['', page.file, page.number, ...w.slice(SCAN, SCAN + 4), '', w[READ], d.verdict, d.text]);
  }));
  return rows.map(r => r.join('\t')).join('\n') + '\n';
}

function save() {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([decisionsTable()], {type: 'text/tab-separated-values'}));
  link.download = 'decisions.tsv';
  link.click();
  URL.revokeObjectURL(link.href);
}

function toggleLeaf() {
  const view = get('pageview');
  view.style.display = view.style.display === 'block' ? 'none' : 'block';
  show();
}

const actions = {
  Enter: () => decide('right', ''), e: () => { get('typed').focus(); get('typed').select(); },
  l: () => decide('lexicon', ''), o: () => decide('open', ''), x: () => decide('change', ''),
  s: () => { get('same').checked = !get('same').checked; }, u: undo, v: toggleLeaf, d: save,
  ArrowLeft: () => go(at - 1), ArrowRight: () => go(at + 1),
  PageUp: () => toPage(leafAt - 1), PageDown: () => toPage(leafAt + 1),
  '/': () => { toPage(leafAt); get('search').focus(); }};

document.addEventListener('keydown', event => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.target.tagName === 'INPUT' && event.target.type !== 'checkbox') {
    if (event.key === 'Escape') event.target.blur();
    return;
  }
  if (event.target.tagName === 'SELECT') return;
  if (event.key === 'Enter' && event.target.tagName === 'BUTTON') return;
  if (/^[1-9]$/.test(event.key)) {
    const text = sheet.items.length ? item().suggestions[Number(event.key) - 1] : undefined;
    if (text !== undefined) decide('change', text);
  } else if (actions[event.key]) {
    actions[event.key]();
  } else {
    return;
  }
  event.preventDefault();
});
get('form').addEventListener('submit', event => {
  event.preventDefault();
  get('typed').blur();
  decide('change', get('typed').value.trim().replace(/\s+/g, ' '));
});
get('order').onchange = () => { sortItems(); show(); get('order').blur(); };
get('undo').onclick = undo;
get('save').onclick = save;
get('leafview').onclick = toggleLeaf;
get('pagebefore').onclick = () => toPage(leafAt - 1);
get('pageafter').onclick = () => toPage(leafAt + 1);
get('search').oninput = showLeaf;
get('before').onclick = () => go(at - 1);
get('after').onclick = () => go(at + 1);
get('leave').onclick = () => decide('open', '');
get('lexicon').onclick = () => decide('lexicon', '');
get('remove').onclick = () => decide('change', '');
window.addEventListener('resize', show);
document.title = sheet.title;
get('title').textContent = sheet.title;
get('order').value = sheet.order;
sortItems();
if (sheet.items.length) leafAt = item().leaf;
show();
)js";

}  // namespace burnisher::report
