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
#leaf { position: relative; display: none; margin-top: 1rem; }
#leaf img { display: block; max-width: none; }
#leaf button { position: absolute; border: 2px solid #e65100; background: #e6510022; padding: 0;
  cursor: pointer; }
#leaf button.settled { border-color: #00695c; background: #00695c22; }
#leaf button[aria-current=true] { border-width: 4px; }
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
<div id="leaf"><img alt="the page" id="leafpicture"></div>
</main>
)html";

const char* const kProofScript = R"js(
const get = id => document.getElementById(id);
const key = 'proof ' + sheet.id;
let decisions = {};     // by id: {verdict, text}
let past = [];          // what undo takes back: lists of [id, decision before]
let order = [];         // places in sheet.items
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

function showLeaf(i) {
  const leaf = get('leaf');
  leaf.querySelectorAll('button').forEach(b => b.remove());
  const page = sheet.pages[i.leaf];
  if (leaf.style.display !== 'block' || !page.src) return;
  get('leafpicture').src = page.src;
  order.forEach((n, place) => {
    const other = sheet.items[n];
    if (other.leaf !== i.leaf) return;
    const button = document.createElement('button'), [x, y, w, h] = other.inLeaf;
    button.title = other.read;
    button.className = isDone(other) ? 'settled' : '';
    button.setAttribute('aria-label', other.read);
    button.setAttribute('aria-current', place === at);
    Object.assign(button.style, {left: x - 3 + 'px', top: y - 3 + 'px', width: w + 6 + 'px',
                                 height: h + 6 + 'px'});
    button.onclick = () => go(place);
    leaf.append(button);
  });
}

function show() {
  showList();
  if (!sheet.items.length) {
    get('where').textContent = 'There is no suspect word in this document.';
    return;
  }
  const i = item();
  get('where').textContent = (at + 1) + ' of ' + order.length + ', ' + sheet.pages[i.leaf].name;
  get('reason').textContent = i.reason + '; wrong with a likelihood of ' +
      Math.round(100 * i.error_probability) + ' %';
  showPicture(i);
  showText(i);
  showChoices(i);
  showLeaf(i);
}

function go(place) {
  at = Math.max(0, Math.min(order.length - 1, place));
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
  const leaf = get('leaf');
  leaf.style.display = leaf.style.display === 'block' ? 'none' : 'block';
  show();
}

const actions = {
  Enter: () => decide('right', ''), e: () => { get('typed').focus(); get('typed').select(); },
  l: () => decide('lexicon', ''), o: () => decide('open', ''), x: () => decide('change', ''),
  s: () => { get('same').checked = !get('same').checked; }, u: undo, v: toggleLeaf, d: save,
  ArrowLeft: () => go(at - 1), ArrowRight: () => go(at + 1)};

document.addEventListener('keydown', event => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const typing = event.target === get('typed');
  if (typing) {
    if (event.key === 'Escape') get('typed').blur();
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
show();
)js";

}  // namespace burnisher::report
