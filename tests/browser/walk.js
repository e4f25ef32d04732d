// A walk through the interface by chance: one step is done by each call, and told as words that can be done again.
const [seed, step, views, done] = arguments;

// mulberry32: the same numbers for the same seed and step
let state = (seed * 1_000_003 + step * 7_919) >>> 0;
const chance = () => {
  state = (state + 0x6d2b79f5) >>> 0;
  let t = Math.imul(state ^ (state >>> 15), 1 | state);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
};
const pick = (list) => list[Math.floor(chance() * list.length)];
const WORDS = ["lamb*", "deer", "x", "Losses", "é 😀", "(", "2031-06-03", "a b c", "«»", "0"];
// what leaves the walk: files, signing out, what asks the browser itself
const OUT = /sign out|export|download|choose (a )?file|copy|print|reload|password|as \.|word \(|excel|\.csv|\.json|undo this delivery/i;

const seen = (element) => {
  const box = element.getBoundingClientRect();
  return box.width > 1 && box.height > 1 && getComputedStyle(element).visibility !== "hidden" && !element.closest("[inert], [aria-hidden=true]");
};
const all = (css) => [...document.querySelectorAll(css)].filter((one) => seen(one) && !one.disabled);
const named = (element) =>
  (element.getAttribute("aria-label") || element.innerText || element.placeholder || element.tagName).trim().replace(/\s+/g, " ").slice(0, 60);

const set = (field, value) => {
  const kind = field.tagName === "TEXTAREA" ? HTMLTextAreaElement : HTMLInputElement;
  Object.getOwnPropertyDescriptor(kind.prototype, "value").set.call(field, value);
  field.dispatchEvent(new Event("input", { bubbles: true }));
};
const key = (target, name) =>
  target.dispatchEvent(new KeyboardEvent("keydown", { key: name, bubbles: true, cancelable: true }));
const press = (element) => {
  sessionStorage.setItem("walk", `click ${named(element)}`);
  const at = element.getBoundingClientRect();
  const of = { bubbles: true, cancelable: true, button: 0, pointerType: "mouse", clientX: at.left + 3, clientY: at.top + 3 };
  element.dispatchEvent(new PointerEvent("pointerdown", of));
  element.dispatchEvent(new MouseEvent("mousedown", of));
  element.focus?.();
  element.dispatchEvent(new PointerEvent("pointerup", of));
  element.dispatchEvent(new MouseEvent("mouseup", of));
  element.click();
};

const steps = {
  view() {
    const view = pick(views);
    history.pushState({}, "", view);
    dispatchEvent(new PopStateEvent("popstate", { state: {} }));
    return `view ${view}`;
  },
  click() {
    const inside = all("[role=dialog], [role=menu]");
    const within = inside.length && chance() < 0.8 ? pick(inside) : document;
    const list = [...within.querySelectorAll("button, a[href^='/'], [role=menuitem], [role=option], [role=radio], input[type=checkbox], summary, main p, mark")].filter(
      (one) => seen(one) && !one.disabled && !OUT.test(named(one)),
    );
    if (!list.length) return steps.escape();
    const one = pick(list);
    const words = named(one);
    press(one);
    return `click ${one.tagName.toLowerCase()} “${words}”`;
  },
  type() {
    const list = all("input:not([type=checkbox]):not([type=radio]):not([type=file]):not([type=password]), textarea");
    if (!list.length) return steps.click();
    const one = pick(list);
    const words = pick(WORDS);
    one.focus();
    set(one, words);
    if (chance() < 0.4) key(one, "Enter");
    return `type “${words}” into “${named(one)}”`;
  },
  choose() {
    const list = all("select");
    if (!list.length) return steps.click();
    const one = pick(list);
    const option = pick([...one.options].filter((o) => !o.disabled));
    if (!option) return "nothing to choose";
    one.value = option.value;
    one.dispatchEvent(new Event("change", { bubbles: true }));
    return `choose “${option.text}” of “${named(one)}”`;
  },
  key() {
    const name = pick(["ArrowDown", "ArrowUp", "ArrowRight", "Enter", "Delete", "j", "k", "f", "x", "u", "n", "p", "?", "Tab", "o"]);
    key(document.activeElement ?? document.body, name);
    return `key ${name}`;
  },
  escape() {
    key(document.activeElement ?? document.body, "Escape");
    return "key Escape";
  },
  back() {
    history.back();
    return "back";
  },
  scroll() {
    const list = [...document.querySelectorAll("main *")].filter((one) => one.scrollHeight > one.clientHeight + 20 && seen(one));
    if (!list.length) return steps.click();
    const one = pick(list);
    one.scrollTop = chance() * one.scrollHeight;
    return "scroll";
  },
};
const WEIGHTS = [["click", 46], ["view", 14], ["type", 12], ["choose", 9], ["key", 8], ["escape", 5], ["back", 3], ["scroll", 3]];
let at = chance() * WEIGHTS.reduce((sum, [, weight]) => sum + weight, 0);
const [name] = WEIGHTS.find(([, weight]) => (at -= weight) < 0) ?? WEIGHTS[0];
let told;
try {
  told = location.pathname.includes("/projects/") ? steps[name]() : steps.view();
} catch (error) {
  told = `${name} failed: ${error}`;
}
sessionStorage.setItem("walk", told);
// what is wrong on the page a moment after
setTimeout(() => {
  const words = document.body.innerText;
  const wrong = [];
  if (!document.getElementById("root")?.firstElementChild) wrong.push("a white page");
  for (const [what, pattern] of [["NaN", /\bNaN\b/], ["undefined", /\bundefined\b/], ["an object", /\[object /]])
    if (pattern.test(words)) wrong.push(`${what} on the screen: ${words.slice(Math.max(words.search(pattern) - 60, 0), words.search(pattern) + 40)}`);
  if (/stopped because of a program error/.test(words)) wrong.push(words.match(/.{0,40}stopped because of a program error.*?Details: .{0,200}/s)?.[0]);
  wrong.push(...(window.__walk?.errors ?? []).splice(0));
  done({ told, wrong, where: decodeURI(location.pathname + location.search).slice(0, 200) });
}, 12);
