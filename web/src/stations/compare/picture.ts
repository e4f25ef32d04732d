/** What stands beside a drawing where it stands alone. */
export interface Pictured {
  title: string;
  /** What was counted, and of how many texts. */
  base: string;
  /** How, in a line. */
  method?: string;
}

const HEAD = 30;
const LINE = 15;

/** A drawn figure as a picture that stands alone: title above, base and method below, colours resolved. */
export function pictureSvg(svg: SVGSVGElement, beside: Pictured): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const box = svg.getBoundingClientRect();
  const width = svg.width?.baseVal?.value || box.width;
  const height = svg.height?.baseVal?.value || box.height;
  const lines = [beside.base, ...(beside.method ? [beside.method] : [])].flatMap((text) =>
    wrapped(text, Math.max(40, Math.floor((width - 24) / 5.6))),
  );
  const whole = HEAD + height + 10 + lines.length * LINE + 6;
  const outer = document.createElementNS("http://www.w3.org/2000/svg", "svg");
  const name = (element: Element, values: Record<string, string>) => {
    for (const [key, value] of Object.entries(values)) element.setAttribute(key, value);
  };
  outer.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  name(outer, {
    width: String(width),
    height: String(whole),
    viewBox: `0 0 ${width} ${whole}`,
    "font-family": "var(--font-sans)",
    "font-size": "12",
  });
  const paper = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  name(paper, { width: "100%", height: "100%", fill: "var(--sheet)" });
  outer.append(paper, written(beside.title, 12, 20, "var(--ink)", "14", "600"));
  name(copy, { x: "0", y: String(HEAD), width: String(width), height: String(height) });
  for (const attribute of ["class", "style", "data-figure"]) copy.removeAttribute(attribute);
  outer.append(copy);
  lines.forEach((line, at) => {
    outer.append(written(line, 12, HEAD + height + 18 + at * LINE, "var(--ink2)", "11"));
  });
  for (const element of outer.querySelectorAll("[class]")) element.removeAttribute("class");
  return resolve(new XMLSerializer().serializeToString(outer));
}

function written(text: string, x: number, y: number, fill: string, size: string, weight = "400") {
  const element = document.createElementNS("http://www.w3.org/2000/svg", "text");
  const values = { x: String(x), y: String(y), fill, "font-size": size, "font-weight": weight };
  for (const [key, value] of Object.entries(values)) element.setAttribute(key, value);
  element.textContent = text;
  return element;
}

function wrapped(text: string, most: number): string[] {
  const lines: string[] = [""];
  for (const word of text.split(" ")) {
    const last = lines.at(-1)!;
    if (last && last.length + word.length + 1 > most) lines.push(word);
    else lines[lines.length - 1] = last ? `${last} ${word}` : word;
  }
  return lines;
}

function resolve(markup: string): string {
  const style = getComputedStyle(document.documentElement);
  return markup.replace(/var\((--[\w-]+)\)/g, (_, name: string) =>
    style.getPropertyValue(name).trim().replace(/"/g, "'"),
  );
}

export async function picturePng(svg: SVGSVGElement, beside: Pictured, scale = 2): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(pictureSvg(svg, beside))}`;
  await image.decode();
  const canvas = document.createElement("canvas");
  canvas.width = image.width * scale;
  canvas.height = image.height * scale;
  canvas.getContext("2d")!.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((take, fail) =>
    canvas.toBlob(
      (blob) => (blob ? take(blob) : fail(new Error("The picture could not be made."))),
      "image/png",
    ),
  );
}
