import type { Piece, Quantity, Table } from "../api/types";

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

/** copyTable copies the rows that are shown as tab-separated text, numbers as programs read them. */
export function copyTable(table: Table): Promise<void> {
  const columns = table.columns.filter((column) => !column.hidden);
  const head = columns.map((column) => (column.unit ? `${column.label} (${column.unit})` : column.label));
  const rows = table.rows.map((row) => columns.map((column) => row[column.id] ?? ""));
  return copyText([head, ...rows].map((cells) => cells.join("\t")).join("\n"));
}

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

/** copyFigurePNG copies the figure as a picture of three times its size. */
export async function copyFigurePNG(svg: SVGSVGElement): Promise<void> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(standalone(svg))}`;
  await image.decode();
  const canvas = document.createElement("canvas");
  canvas.width = svg.viewBox.baseVal.width * 3;
  canvas.height = svg.viewBox.baseVal.height * 3;
  canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
  if (!blob) throw new Error("the picture could not be drawn");
  await navigator.clipboard.write([new ClipboardItem({ "image/png": blob })]);
}
