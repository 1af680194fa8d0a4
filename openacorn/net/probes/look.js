// What a page measures and where its faults can be seen, in points of the picture taken right after. arguments: most characters
// of its source, what to call when done.
const [most, done] = arguments;
const view = window.visualViewport;
const MOST = 3, SLACK = 4, SMALL = 9.5;
const NUMBER = /\+?\(?\d[\d\s().\/–-]{6,18}\d/;

let largest = 0;
new PerformanceObserver((list) => { for (const entry of list.getEntries()) largest = Math.max(largest, entry.startTime); })
  .observe({ type: "largest-contentful-paint", buffered: true });

// A page laid out wider than the screen is shown smaller: `scale` below 1.
function spot(kind, box, text) {
  const left = Math.max(0, (box.left - view.offsetLeft) * view.scale), top = (box.top - view.offsetTop) * view.scale;
  const right = Math.min(view.width * view.scale, (box.right - view.offsetLeft) * view.scale);
  return { kind, x: Math.round(left), y: Math.round(top), width: Math.round(right - left),
           height: Math.round(box.height * view.scale), text: text.replace(/\s+/g, " ").trim().slice(0, 80) };
}

function inView(box) {
  return box.width > 3 && box.height > 3 && box.top >= 0 && box.bottom <= view.height && box.right > 0 && box.left < view.width;
}

// Is it what is seen there, and not behind a banner?
function onTop(element, box) {
  const x = (Math.max(0, box.left) + Math.min(box.right, view.width)) / 2;
  const front = document.elementFromPoint(x, (box.top + box.bottom) / 2);
  return front !== null && (element === front || element.contains(front) || front.contains(element)) && getComputedStyle(element).visibility !== "hidden";
}

function* textsIn(root) {
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT);
  for (let count = 0; count < 4000 && walker.nextNode(); count++) {
    const words = walker.currentNode.nodeValue;
    if (words.trim().length > 5 && walker.currentNode.parentElement) yield [walker.currentNode, words, walker.currentNode.parentElement];
  }
}

function boxOf(node, from, to) {
  const range = document.createRange();
  range.setStart(node, from);
  range.setEnd(node, to);
  return range.getBoundingClientRect();
}

function spots() {
  const found = { outside: [], small: [], phone: [] };
  const add = (kind, element, box, text) => {
    if (found[kind].length < MOST && inView(box) && onTop(element, box)) found[kind].push(spot(kind, box, text));
  };
  for (const element of document.querySelectorAll("body *")) {
    if (found.outside.length >= MOST) break;
    const box = element.getBoundingClientRect();
    const inner = [...element.children].some((child) => child.getBoundingClientRect().right > view.width + SLACK);
    if (box.right > view.width + SLACK && box.left < view.width && !inner) add("outside", element, box, element.innerText || element.tagName);
  }
  for (const [node, words, element] of textsIn(document.body)) {
    const size = parseFloat(getComputedStyle(element).fontSize) * view.scale;
    if (words.trim().length > 20 && size < SMALL) add("small", element, boxOf(node, 0, words.length), words);
    const number = element.closest("a[href^='tel:' i], script, style") ? null : words.match(NUMBER);
    if (number) add("phone", element, boxOf(node, number.index, number.index + number[0].length), number[0]);
  }
  return Object.values(found).flat();
}

setTimeout(() => {
  const [loading] = performance.getEntriesByType("navigation");
  let seen = [];
  try { seen = document.body ? spots() : []; } catch { /* a page that changes the language itself is looked at without spots */ }
  done({ lcp: largest / 1000, load: loading ? loading.loadEventEnd / 1000 : 0, wide: document.documentElement.scrollWidth,
         scale: view.scale, at: document.URL, spots: seen, html: document.documentElement.outerHTML.slice(0, most) });
}, 100);
