#include "report/type_case_page.h"

namespace burnisher::report {

const char* const kTypeCaseStyle = R"css(
body { margin: 0; display: grid; grid-template: auto 1fr / 13rem 1fr; height: 100vh; }
header { grid-column: 1 / 3; display: flex; gap: 0.8rem; align-items: center; flex-wrap: wrap;
  padding: 0.5rem 1rem; background: #263238; color: #fff; }
header h1 { font-size: 1rem; margin: 0 auto 0 0; }
button { font: inherit; cursor: pointer; }
kbd { font: 0.75rem 'DejaVu Sans Mono', monospace; background: #eceff1; color: #263238;
  border: 1px solid #90a4ae; border-radius: 3px; padding: 0 0.3em; margin-right: 0.3em; }
nav { overflow-y: auto; border-right: 1px solid #cfcac0; background: #f2efe8; }
nav button { display: flex; gap: 0.5rem; align-items: center; width: 100%; padding: 0.15rem 0.6rem;
  border: 0; background: none; text-align: left; min-height: 2.4rem; }
nav button[aria-current=true] { background: #fff; box-shadow: inset 4px 0 #00695c; }
nav .name { margin-left: auto; font: 1.05rem 'DejaVu Serif', serif; color: #00695c; }
nav .read { margin-left: auto; color: #8d8a82; font-family: 'DejaVu Serif', serif; }
nav small { color: #5d5a52; min-width: 2.2rem; }
main { overflow: auto; padding: 0.7rem 1.2rem 2rem; }
.cut { position: relative; overflow: hidden; background: #fff; flex: none; }
.cut img { position: absolute; top: 0; max-width: none; }
.cut i { position: absolute; top: 0; bottom: 0; background: #fffc; }
#grid { display: flex; flex-wrap: wrap; gap: 5px; margin: 0.6rem 0; max-height: 40vh; overflow-y: auto; }
#grid button { border: 1px solid #d5d0c6; background: #fff; padding: 2px; border-radius: 3px; position: relative; }
#grid button[aria-current=true] { outline: 3px solid #e65100; }
#grid p { flex-basis: 100%; margin: 0.3rem 0; }
#grid button.named { background: #d7ece6; } #grid button.broken { background: #e4e0d8; opacity: .55; }
#grid b { display: block; font: 0.8rem 'DejaVu Serif', serif; color: #00695c; min-height: 1.1em; }
#line { position: relative; overflow-x: auto; padding-bottom: 1.5em; background: #fff; border: 1px solid #cfcac0; margin: 0.3rem 0; }
#line .strip, .row .strip { position: relative; }
.strip img { display: block; max-width: none; }
.strip button { position: absolute; top: 0; padding: 0; background: none; border: 1px solid #1565c088; border-top: 0; }
.strip button.named { background: #00695c1a; border-color: #00695c; } .strip button.broken { background: #8884; }
.strip button[aria-current=true] { border: 3px solid #e65100; border-top-width: 0; z-index: 1; }
.strip button span { position: absolute; bottom: -1.35em; left: 0; right: -1em; text-align: left;
  font: 0.85rem 'DejaVu Serif', serif; color: #00695c; white-space: nowrap; }
#where, #how { color: #5d5a52; margin: 0.2rem 0; }
.tools { display: flex; gap: 0.5rem; align-items: center; flex-wrap: wrap; margin: 0.5rem 0; }
input { font: 1.1rem 'DejaVu Serif', serif; padding: 0.2rem 0.4rem; }
#letters { display: flex; flex-wrap: wrap; gap: 2px; max-height: 9rem; overflow-y: auto; }
#letters button { min-width: 1.9rem; font: 1.05rem 'DejaVu Serif', serif; border: 1px solid #cfcac0; background: #fff; border-radius: 3px; }
.row { margin-bottom: 1.6rem; } .row input { width: min(60rem, 95%); margin-top: 1.3em; }
.row .scroll { overflow-x: auto; padding-bottom: 1.5em; background: #fff; border: 1px solid #cfcac0; }
.row p { margin: 0; color: #5d5a52; }
[hidden] { display: none !important; }
#parting { cursor: col-resize; } #parting::after { content: ''; }
)css";

const char* const kTypeCaseBody = R"html(
<header><h1 id="title"></h1><span id="done" aria-live="polite"></span>
<button id="lines"><kbd>F2</kbd>lines</button>
<button id="undo"><kbd>Ctrl Z</kbd>undo</button>
<button id="save"><kbd>Ctrl S</kbd>save the case</button></header>
<nav id="list" aria-label="piles"></nav>
<main>
<section id="pile">
<p id="where" aria-live="polite"></p>
<form class="tools" id="form"><label><kbd>Tab</kbd>says <input id="name" dir="auto" autocomplete="off" spellcheck="false" size="14"></label>
<button type="submit"><kbd>Enter</kbd>all of the pile</button>
<button type="button" id="one">this one alone</button>
<button type="button" id="accept"><kbd>Space</kbd>as it is read</button>
<button type="button" id="next"><kbd>PgDn</kbd>next pile</button></form>
<div id="grid" role="listbox" aria-label="pictures of the pile"></div>
<div class="tools">
<button id="out"><kbd>Backspace</kbd>take it out</button>
<button id="broken"><kbd>Del</kbd>broken: not to be learnt</button>
<button id="joinleft"><kbd>Shift &larr;</kbd>join with the left one</button>
<button id="joinright"><kbd>Shift &rarr;</kbd>join with the right one</button>
<button id="part"><kbd>Shift &darr;</kbd>part it</button>
<label><input type="checkbox" id="alike"> <kbd>F4</kbd>all of the pile alike</label></div>
<p id="how"></p>
<div id="line"><div class="strip" id="strip"></div></div>
<details id="keyboard"><summary>letters</summary><div id="letters"></div></details>
</section>
<section id="lineview" hidden></section>
</main>
)html";

}  // namespace burnisher::report
