import type { Piece, Quantity } from "../api/types";

/** copyText puts plain text on the clipboard. */
export function copyText(text: string): Promise<void> {
  return navigator.clipboard.writeText(text);
}

/** copyRich copies text, and HTML for programs that keep its italics and tables. */
export async function copyRich(plain: string, html: string): Promise<void> {
  if (typeof ClipboardItem === "undefined") return copyText(plain);
  await navigator.clipboard.write([
    new ClipboardItem({
      "text/plain": new Blob([plain], { type: "text/plain" }),
      "text/html": new Blob([html], { type: "text/html" }),
    }),
  ]);
}

/** words returns a piece as plain text. */
export function words(piece: Piece, quantities: ReadonlyMap<string, Quantity>): string {
  if (!piece.ref || piece.words) return piece.words ?? "";
  const quantity = quantities.get(piece.ref);
  if (!quantity) return "";
  return quantity.unit ? `${quantity.display}\u00a0${quantity.unit}` : quantity.display;
}

/** escapeHTML writes a text so that HTML shows it as it is. */
export function escapeHTML(text: string): string {
  return text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
}

/** escapeMarkdown writes a text so that markdown shows it as it is. */
export const escapeMarkdown = (text: string): string => text.replace(/[\\`*_[\]<>|]/g, "\\$&");

const styles = [
  "fill",
  "fill-opacity",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "stroke-linecap",
  "font-family",
  "font-size",
  "font-style",
  "font-weight",
  "opacity",
  "text-anchor",
];

/** standalone returns the figure as an SVG document that needs no style sheet. */
function standalone(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const originals = svg.querySelectorAll("*");
  copy.querySelectorAll("*").forEach((element, i) => {
    const computed = getComputedStyle(originals[i] as Element);
    for (const name of styles) (element as SVGElement).style.setProperty(name, computed.getPropertyValue(name));
    element.removeAttribute("class");
    element.removeAttribute("tabindex");
  });
  const box = svg.viewBox.baseVal;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", String(box.width));
  copy.setAttribute("height", String(box.height));
  copy.style.background = getComputedStyle(document.body).backgroundColor;
  return new XMLSerializer().serializeToString(copy);
}

/** copyFigureSVG copies the figure as SVG text. */
export function copyFigureSVG(svg: SVGSVGElement): Promise<void> {
  return copyText(standalone(svg));
}

/** Centimetres that a picture is wide: a column of a paper, and its page. */
export const columnWidth = 8;
export const pageWidth = 16;

/** The pixels of a centimetre in print (300 to the inch), and on a screen (96 to the inch). */
const printed = 300 / 2.54;
const onScreen = 96 / 2.54;

/** drawn returns the figure as a picture to be printed as many centimetres wide. */
async function drawn(svg: SVGSVGElement, centimetres: number): Promise<HTMLCanvasElement> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(standalone(svg))}`;
  await image.decode();
  const { width, height } = svg.viewBox.baseVal;
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(centimetres * printed);
  canvas.height = Math.round((canvas.width * height) / width);
  canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
  return canvas;
}

/** copyFigurePNG copies the figure as a picture to be printed as many centimetres wide. */
export async function copyFigurePNG(svg: SVGSVGElement, centimetres: number): Promise<void> {
  const canvas = await drawn(svg, centimetres);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
  if (!blob) throw new Error("the picture could not be drawn");
  await navigator.clipboard.write([new ClipboardItem({ "image/png": blob })]);
}

/** copyFigureWithCaption copies the figure at the width of a column, its caption under it, for word processors. */
export async function copyFigureWithCaption(svg: SVGSVGElement, caption: string): Promise<void> {
  const canvas = await drawn(svg, columnWidth);
  const width = Math.round(columnWidth * onScreen);
  const alt = escapeHTML(svg.getAttribute("aria-label") ?? "").replaceAll('"', "&quot;");
  await copyRich(
    caption,
    `<p><img src="${canvas.toDataURL("image/png")}" width="${width}" alt="${alt}"></p><p>${escapeHTML(caption)}</p>`,
  );
}
