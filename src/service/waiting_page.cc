#include "service/waiting_page.h"

namespace burnisher::service {

const char* const kWaitingPage = R"page(<!DOCTYPE html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Waiting for a person</title>
<style>
body { font: 15px/1.45 'DejaVu Sans', Verdana, sans-serif; margin: 0; color: #222; background: #faf9f6;
  display: grid; grid-template: auto 1fr / 19rem 1fr; height: 100vh; }
header { grid-column: 1 / 3; display: flex; gap: 1rem; align-items: center; padding: .5rem 1rem; background: #1d3d55; color: #fff; }
header h1 { font-size: 1rem; margin: 0 auto 0 0; font-weight: 600; }
input { font: inherit; padding: .2rem .4rem; border: 1px solid #bbb; border-radius: 4px; }
#list { overflow-y: auto; border-right: 1px solid #d5d2ca; padding: .6rem; }
#list button { display: block; width: 100%; text-align: left; font: inherit; background: #fff; border: 1px solid #d5d2ca;
  border-radius: 5px; padding: .5rem .7rem; margin-bottom: .5rem; cursor: pointer; overflow-wrap: anywhere; }
#list button:disabled { background: #eeece6; color: #777; cursor: default; }
#list button[aria-current=true] { border-color: #1f5a86; box-shadow: inset 4px 0 #1f5a86; }
#list small { display: block; color: #6b4a00; } #list button:disabled small { color: #777; }
main { display: flex; flex-direction: column; min-width: 0; min-height: 0; }
#bar { display: flex; gap: .6rem; align-items: center; flex-wrap: wrap; padding: .5rem 1rem; border-bottom: 1px solid #d5d2ca; background: #fff; }
#bar b { margin-right: auto; overflow-wrap: anywhere; }
#bar button, #choose p button { font: inherit; padding: .25rem .8rem; border: 1px solid #9aa5ad; border-radius: 4px; background: #f4f6f7; cursor: pointer; }
#bar button[aria-pressed=true] { background: #1f5a86; border-color: #1f5a86; color: #fff; }
#bar #send { background: #1c6b41; border-color: #1c6b41; color: #fff; }
#said { margin: 0; padding: .3rem 1rem; min-height: 1.4em; color: #9a2a00; } #said.good { color: #1c6b41; }
#none-open { padding: 3rem 1rem; color: #555; text-align: center; }
iframe { flex: 1; border: 0; background: #fff; } [hidden] { display: none !important; }
#choose { flex: 1; overflow: auto; padding: 0 1rem 1rem; }
#choose p { margin: .3rem 0 .7rem; color: #555; }
#pages { display: flex; flex-wrap: wrap; gap: 1.2rem; align-items: start; }
figure { margin: 0; width: min(100%, 34rem); } figcaption { margin-bottom: .3rem; }
.leaf { position: relative; border: 1px solid #bbb; background: #fff; overflow: hidden; }
.leaf img { display: block; width: 100%; height: 100%; }
.leaf button { position: absolute; padding: 0; border: 2px solid #1c6b41; background: transparent; border-radius: 2px; }
.leaf button[aria-pressed=false] { background: #fffa; border: 1px dashed #999; }
.leaf button:focus-visible { outline: 3px solid #1f5a86; }
.left-out .leaf { opacity: .6; }
kbd { font: .75rem 'DejaVu Sans Mono', monospace; border: 1px solid #90a4ae; border-radius: 3px; padding: 0 .3em; }
</style></head><body>
<header><h1>Documents that wait for a person</h1>
<label>Your name <input id="name" autocomplete="off" size="14"></label>
<label id="token-label" hidden>Token <input id="token" type="password" autocomplete="off" size="18"></label></header>
<nav id="list" aria-label="Documents that wait"></nav>
<main>
<div id="bar" hidden><b id="title"></b>
<button id="to-words" aria-pressed="true">Doubtful words</button><button id="to-choose" aria-pressed="false">What is needed</button>
<button id="back">Put back</button><button id="send">Send on</button></div>
<p id="said" role="status" aria-live="polite"></p>
<p id="none-open">Open a document from the list. While you have it open, nobody else does.</p>
<iframe id="words" title="Doubtful words" hidden></iframe>
<section id="choose" hidden>
<p>Click what is not needed, or <kbd>Tab</kbd> to it and press <kbd>Enter</kbd>; <kbd>o</kbd> or a double click keeps only that.
What is left out is in neither the text nor the picture of what is sent on.
<button id="all">Keep all</button> <button id="none">Keep nothing</button> <span id="count"></span></p>
<div id="pages"></div></section>
</main>
<script>
const get = id => document.getElementById(id);
let open = null;      // {id, claim, pages}: the document that is open here
let kept = [];        // by page: by block, whether it is kept; a page without blocks has one entry
let listed = '';
get('name').value = localStorage.getItem('name') || '';
const say = (text, good = false) => { get('said').textContent = text; get('said').className = good ? 'good' : ''; };
function element(name, text, parent, props = {}) {
  const one = Object.assign(document.createElement(name), props);
  if (text) one.textContent = text;
  parent.append(one);
  return one;
}
async function ask(path, options = {}) {
  const headers = {...options.headers};
  if (get('token').value) headers.Authorization = 'Bearer ' + get('token').value;
  if (options.claim) headers['Burnisher-Claim'] = options.claim;
  const answer = await fetch(path, {...options, headers});
  if (answer.status == 401) get('token-label').hidden = false;
  if (!answer.ok) {
    const problem = await answer.json().catch(() => ({detail: answer.statusText}));
    throw Object.assign(new Error(problem.detail), {status: answer.status});
  }
  return answer;
}
const waiting = id => '/v1/waiting/' + id;
const blob_of = async path => URL.createObjectURL(await (await ask(path)).blob());

async function look() {
  let list;
  try { list = (await (await ask('/v1/waiting')).json()).documents; } catch (problem) { say(problem.message); return; }
  const now = JSON.stringify([list, open && open.id]);
  if (now == listed) return;
  listed = now;
  const focused = document.activeElement && document.activeElement.dataset ? document.activeElement.dataset.id : '';
  get('list').replaceChildren();
  if (!list.length) element('p', 'Nothing waits.', get('list'));
  for (const one of list) {
    const mine = open && open.id == one.id;
    const button = element('button', one.files.join(', '), get('list'),
      {disabled: !mine && !!one.open_with, onclick: () => take(one)});
    button.dataset.id = one.id;
    button.setAttribute('aria-current', !!mine);
    element('small', one.pages == 1 ? '1 page' : one.pages + ' pages', button);
    for (const why of one.held.slice(0, 3)) element('small', why, button);
    if (one.held.length > 3) element('small', 'and ' + (one.held.length - 3) + ' more pages', button);
    if (mine) element('small', 'open here', button);
    else if (one.open_with) element('small', 'open with ' + one.open_with, button);
    if (one.id == focused) button.focus();
  }
}

async function take(one) {
  if (open && open.id == one.id) return;
  await put_back();
  try {
    const name = JSON.stringify({name: get('name').value.trim()});
    const {claim} = await (await ask(waiting(one.id) + '/claim', {method: 'POST', body: name})).json();
    open = {id: one.id, claim};
    say('opening ...', true);
    get('words').src = await blob_of('/v1/documents/' + one.id + '/proof');
    open.pages = (await (await ask('/v1/documents/' + one.id + '/pages')).json()).pages;
    kept = open.pages.map(page => (page.blocks.length ? page.blocks : [0]).map(() => true));
    get('title').textContent = one.files.join(', ');
    get('bar').hidden = false;
    get('none-open').hidden = true;
    say('');
    show('words');
    show_pages();
  } catch (problem) { close(); say(problem.message); }
  look();
}

function close() {
  open = null;
  for (const id of ['bar', 'words', 'choose']) get(id).hidden = true;
  get('none-open').hidden = false;
  get('words').removeAttribute('src');
  get('pages').replaceChildren();
}

async function put_back(leaving = false) {
  if (!open) return;
  const {id, claim} = open;
  if (!leaving) close();
  try { await ask(waiting(id) + '/claim', {method: 'DELETE', claim, keepalive: leaving}); } catch (problem) { /* it has lapsed */ }
  if (!leaving) look();
}

function show(what) {
  for (const id of ['words', 'choose']) {
    get(id).hidden = id != what;
    get('to-' + id).setAttribute('aria-pressed', id == what);
  }
}

const seen = new IntersectionObserver(entries => entries.forEach(async entry => {
  if (!entry.isIntersecting) return;
  seen.unobserve(entry.target);
  try { entry.target.src = await blob_of(entry.target.dataset.from); } catch (problem) { say(problem.message); }
}));

function show_pages() {
  get('pages').replaceChildren();
  open.pages.forEach((page, p) => {
    const figure = element('figure', '', get('pages'));
    const label = element('label', '', element('figcaption', '', figure));
    const whole = element('input', '', label, {type: 'checkbox', onchange: () => {
      kept[p].fill(whole.checked); show_kept(); }});
    label.append(' page ' + page.number);
    const leaf = element('div', '', figure, {className: 'leaf'});
    leaf.style.aspectRatio = page.width + ' / ' + page.height;
    const picture = element('img', '', leaf, {alt: 'page ' + page.number});
    picture.dataset.from = '/v1/documents/' + open.id + '/pages/' + page.number + '.png';
    seen.observe(picture);
    page.blocks.forEach((block, b) => {
      const xs = block.outline.map(point => point[0]), ys = block.outline.map(point => point[1]);
      const button = element('button', '', leaf, {title: block.kind + ': ' + block.text.slice(0, 80)});
      button.setAttribute('aria-label', 'page ' + page.number + ', ' + block.kind + ', ' + block.text.slice(0, 80));
      const x = Math.min(...xs), y = Math.min(...ys);
      Object.assign(button.style, {left: 100 * x / page.width + '%', top: 100 * y / page.height + '%',
        width: 100 * (Math.max(...xs) - x) / page.width + '%', height: 100 * (Math.max(...ys) - y) / page.height + '%'});
      const only = () => { kept.forEach(k => k.fill(false)); kept[p][b] = true; show_kept(); };
      button.onclick = () => { kept[p][b] = !kept[p][b]; show_kept(); };
      button.ondblclick = only;
      button.onkeydown = event => { if (event.key == 'o') only(); };
    });
  });
  show_kept();
}

function show_kept() {
  [...get('pages').children].forEach((figure, p) => {
    const box = figure.querySelector('input'), some = kept[p].some(k => k);
    box.checked = kept[p].every(k => k);
    box.indeterminate = some && !box.checked;
    figure.className = some ? '' : 'left-out';
    figure.querySelectorAll('.leaf button').forEach((button, b) => button.setAttribute('aria-pressed', kept[p][b]));
  });
  const pages = kept.filter(k => k.some(one => one)).length;
  const all = kept.every(k => k.every(one => one));
  get('count').textContent = all ? 'Everything is kept.' : !pages ? 'Nothing is kept.'
    : kept.length == 1 ? 'A part is kept.' : 'Kept: ' + pages + ' of ' + kept.length + ' pages, or parts of them.';
}

// "2:3+4,6": page 2 blocks 3 and 4, page 6; everything: "".
function kept_text() {
  if (kept.every(k => k.every(one => one))) return '';
  return kept.map((k, p) => k.every(one => one) ? String(p + 1) : k.some(one => one)
    ? (p + 1) + ':' + k.map((one, b) => one ? b + 1 : 0).filter(b => b).join('+') : '').filter(text => text).join(',');
}

async function send() {
  if (!open) return;
  if (!kept.some(k => k.some(one => one))) { say('Nothing is kept; choose what is needed.'); return; }
  const words = get('words').contentWindow;
  const table = words && words.decisionsTable ? words.decisionsTable() : '';
  const body = JSON.stringify({decisions: table.trim().includes('\n') ? table : '', keep: kept_text()});
  try {
    const {said} = await (await ask(waiting(open.id) + '/deliver', {method: 'POST', body, claim: open.claim})).json();
    close();
    say('Sent on. ' + said, true);
  } catch (problem) { say(problem.message); }
  look();
}

get('words').onload = () => {  // what is decided goes with the document, not into a file
  const inner = get('words').contentDocument;
  for (const id of ['save', 'title']) if (inner && inner.getElementById(id)) inner.getElementById(id).hidden = true;
};
get('to-words').onclick = () => show('words');
get('to-choose').onclick = () => show('choose');
get('all').onclick = () => { kept.forEach(k => k.fill(true)); show_kept(); };
get('none').onclick = () => { kept.forEach(k => k.fill(false)); show_kept(); };
get('back').onclick = () => put_back();
get('send').onclick = send;
get('name').onchange = () => localStorage.setItem('name', get('name').value.trim());
get('token').onchange = look;
addEventListener('pagehide', () => put_back(true));
setInterval(async () => {
  if (!open) return;
  try { await ask(waiting(open.id) + '/claim', {method: 'POST', claim: open.claim,
    body: JSON.stringify({name: get('name').value.trim()})}); }
  catch (problem) { if (problem.status == 409 || problem.status == 404) { close(); say(problem.message); look(); } }
}, 15000);
look();
setInterval(look, 1500);
</script></body></html>
)page";

}  // namespace burnisher::service
