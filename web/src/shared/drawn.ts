const KEPT = [
  "fill",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "font-family",
  "font-size",
  "font-weight",
  "opacity",
];
const SHARP = 2;
type Size = { width: number; height: number };

/** A drawing as a file of its own: what the style sheets say is written into it. */
export function drawnText(svg: SVGSVGElement, size: Size): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("viewBox", `0 0 ${size.width} ${size.height}`);
  copy.setAttribute("width", `${size.width}`);
  copy.setAttribute("height", `${size.height}`);
  // Light lines of a dark page would be lost on a white one.
  copy.style.background = getComputedStyle(document.body).backgroundColor;
  const originals = svg.querySelectorAll("*");
  copy.querySelectorAll("*").forEach((el, i) => {
    const style = getComputedStyle(originals[i] as Element);
    for (const name of KEPT) (el as SVGElement).style.setProperty(name, style.getPropertyValue(name));
  });
  return copy.outerHTML;
}

/** The same as a picture of points, twice as sharp as it is drawn. */
export async function drawnPng(text: string, size: Size): Promise<Blob | null> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  await image.decode();
  const canvas = document.createElement("canvas");
  canvas.width = size.width * SHARP;
  canvas.height = size.height * SHARP;
  const pen = canvas.getContext("2d");
  if (!pen) return null;
  pen.fillStyle = "#fff";
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve) => canvas.toBlob(resolve, "image/png"));
}
