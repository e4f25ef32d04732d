/** A drawn figure as a picture that stands alone: colours resolved, caption below. */
export function pictureSvg(svg: SVGSVGElement, caption: string): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const width = svg.width.baseVal.value;
  const height = svg.height.baseVal.value;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("viewBox", `0 0 ${width} ${height + 26}`);
  copy.setAttribute("height", String(height + 26));
  copy.removeAttribute("class");
  const paper = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  for (const [name, value] of Object.entries({ width: "100%", height: "100%", fill: "var(--sheet)" }))
    paper.setAttribute(name, value);
  copy.prepend(paper);
  const text = document.createElementNS("http://www.w3.org/2000/svg", "text");
  for (const [name, value] of Object.entries({
    x: "12",
    y: String(height + 17),
    fill: "var(--ink2)",
    "font-size": "11",
  }))
    text.setAttribute(name, value);
  text.textContent = caption;
  copy.append(text);
  for (const element of copy.querySelectorAll("[class]")) element.removeAttribute("class");
  return resolve(new XMLSerializer().serializeToString(copy));
}

function resolve(markup: string): string {
  const style = getComputedStyle(document.documentElement);
  return markup.replace(/var\((--[\w-]+)\)/g, (_, name: string) =>
    style.getPropertyValue(name).trim().replace(/"/g, "'"),
  );
}

export async function picturePng(svg: SVGSVGElement, caption: string, scale = 2): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(pictureSvg(svg, caption))}`;
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
