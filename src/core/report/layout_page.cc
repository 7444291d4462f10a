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

}  // namespace burnisher::report
