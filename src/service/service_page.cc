#include "service/service_page.h"

namespace burnisher::service {

const char* const kServicePage = R"page(<!DOCTYPE html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Burnisher</title>
<style>
body { font: 15px/1.5 'DejaVu Sans', Verdana, sans-serif; margin: 0; color: #222; background: #faf9f6; }
main { max-width: 58rem; margin: 2rem auto; padding: 0 1.2rem; }
h1 { font-size: 1.35rem; font-weight: 600; margin: 0 0 1rem; }
#drop { display: block; border: 2px dashed #9aa5ad; border-radius: 8px; padding: 2.4rem 1rem; text-align: center;
  background: #fff; cursor: pointer; }
#drop.over, #drop:focus-within { border-color: #1f5a86; background: #eef4f8; }
#drop input { position: absolute; opacity: 0; width: 1px; height: 1px; }
#drop b { color: #1f5a86; }
.row { display: flex; flex-wrap: wrap; gap: 1rem 1.6rem; margin: 1rem 0 1.6rem; align-items: end; }
label { font-size: .86rem; color: #555; } label input { display: block; font: inherit; padding: .3rem .5rem;
  border: 1px solid #bbb; border-radius: 4px; background: #fff; width: 15rem; }
article { background: #fff; border: 1px solid #ddd; border-radius: 6px; padding: .8rem 1rem; margin-bottom: .7rem; }
article h2 { font-size: 1rem; margin: 0; overflow-wrap: anywhere; }
.state { color: #555; } .failed .state { color: #9a2a00; }
progress { width: 100%; height: .6rem; accent-color: #1f5a86; }
nav { display: flex; flex-wrap: wrap; gap: .3rem 1rem; margin-top: .4rem; } nav a, button { color: #1f5a86; }
button { font: inherit; background: none; border: 0; padding: 0; text-decoration: underline; cursor: pointer; }
ul { margin: .3rem 0 0; padding-left: 1.2rem; color: #8a3b00; font-size: .9rem; }
#said { color: #9a2a00; min-height: 1.5em; }
</style></head><body><main>
<h1>Scans in, finished documents out</h1>
<label id="drop"><input type="file" id="files" multiple accept="image/*,.pdf,.tif,.tiff,.jp2,.pnm,.pgm,.pbm">
<b>Choose scans</b> or drop them here: pictures and PDFs, together one document</label>
<div class="row">
<label>Languages, as in en,de<input id="lang" autocomplete="off"></label>
<label>Title<input id="title" autocomplete="off"></label>
<label id="token-label" hidden>Token<input id="token" type="password" autocomplete="off"></label>
</div>
<p id="said" role="status" aria-live="polite"></p>
<section id="documents" aria-label="Documents"></section>
</main>
<script>
const get = id => document.getElementById(id);
const kinds = {pdf: 'PDF', txt: 'Text', md: 'Markdown', epub: 'EPUB', odt: 'ODT', xml: 'ALTO', tsv: 'Words'};
let known = [];
const headers = () => get('token').value ? {Authorization: 'Bearer ' + get('token').value} : {};
async function ask(path, options = {}) {
  const answer = await fetch(path, {...options, headers: {...headers(), ...options.headers}});
  if (answer.status == 401) get('token-label').hidden = false;
  if (!answer.ok) {
    const problem = await answer.json().catch(() => ({detail: answer.statusText}));
    throw new Error(problem.detail);
  }
  return answer;
}
async function send(files) {
  if (!files.length) return;
  const form = new FormData();
  for (const file of files) form.append('file', file, file.name);
  const settings = {};
  for (const id of ['lang', 'title']) if (get(id).value.trim()) settings[id] = get(id).value.trim();
  form.append('settings', JSON.stringify(settings));
  get('said').textContent = 'sending ...';
  try {
    await ask('/v1/documents', {method: 'POST', body: form});
    get('said').textContent = '';
  } catch (problem) { get('said').textContent = problem.message; }
  get('files').value = '';
  look();
}
// Tokens travel in a header, so that links are fetched and not followed.
async function open_result(path, name) {
  try {
    const blob = await (await ask(path)).blob();
    const link = document.createElement('a');
    link.href = URL.createObjectURL(blob);
    if (name) link.download = name; else link.target = '_blank';
    link.click();
  } catch (problem) { get('said').textContent = problem.message; }
}
function element(name, text, parent, props = {}) {
  const one = Object.assign(document.createElement(name), props);
  if (text) one.textContent = text;
  parent.append(one);
  return one;
}
const words = {waiting: 'waits', working: 'is read', done: 'done', failed: 'could not be read'};
function show(doc) {
  const box = element('article', '', get('documents'), {id: 'd-' + doc.id, className: doc.state});
  element('h2', doc.files.join(', '), box);
  const pages = doc.pages == 1 ? '1 page' : doc.pages + ' pages';
  element('div', words[doc.state] + (doc.state == 'failed' ? ': ' + doc.why : ', ' + pages +
    (doc.state == 'done' ? ' in ' + doc.seconds.toFixed(1) + ' s' : '')), box, {className: 'state'});
  if (doc.progress) element('progress', '', box, {max: doc.progress.scans || 1, value: doc.progress.read});
  const nav = element('nav', '', box);
  const stem = doc.files[0].replace(/\.[^.]*$/, '') || 'document';
  for (const kind in kinds) if (doc.links[kind])
    element('button', kinds[kind], nav, {onclick: () => open_result(doc.links[kind], stem + '.' + kind)});
  if (doc.links.proof) element('button', 'Check the doubtful words', nav, {onclick: () => open_result(doc.links.proof)});
  if (doc.links.proof) {
    const pick = element('button', 'Give decisions back', nav);
    pick.onclick = () => { const input = document.createElement('input'); input.type = 'file'; input.accept = '.tsv';
      input.onchange = async () => { try {
        const said = await (await ask(doc.links.self + '/decisions', {method: 'POST', body: await input.files[0].text()})).json();
        get('said').textContent = said.said;
      } catch (problem) { get('said').textContent = problem.message; } };
      input.click(); };
  }
  element('button', 'Delete', nav, {onclick: async () => {
    try { await ask(doc.links.self, {method: 'DELETE'}); } catch (problem) { get('said').textContent = problem.message; }
    look(); }});
  const notes = [...doc.problems, ...doc.look];
  if (notes.length) { const list = element('ul', '', box); for (const note of notes) element('li', note, list); }
}
async function look() {
  try {
    const list = (await (await ask('/v1/documents')).json()).documents.reverse();
    if (JSON.stringify(list) == JSON.stringify(known)) return;
    known = list;
    const focused = document.activeElement && document.activeElement.closest('article');
    const at = focused ? [focused.id, [...focused.querySelectorAll('button')].indexOf(document.activeElement)] : null;
    get('documents').replaceChildren();
    list.forEach(show);
    if (at && get(at[0])) (get(at[0]).querySelectorAll('button')[at[1]] || {focus() {}}).focus();
  } catch (problem) { get('said').textContent = problem.message; }
}
get('files').onchange = () => send(get('files').files);
for (const what of ['dragenter', 'dragover']) document.addEventListener(what, e => { e.preventDefault(); get('drop').classList.add('over'); });
for (const what of ['dragleave', 'drop']) document.addEventListener(what, e => { e.preventDefault(); get('drop').classList.remove('over'); });
document.addEventListener('drop', e => send(e.dataTransfer.files));
get('token').onchange = look;
look();
setInterval(look, 1000);
</script></body></html>
)page";

}  // namespace burnisher::service
