import { useRemembered } from "./remembered";

/** What goes onto paper; it is remembered, for all problems. */
export interface Paper {
  what: "full" | "short" | "report";
  /** The sheets that the printer takes. */
  size: "a4" | "letter";
  /** The steps that are left out. */
  without: string[];
  /** The tables and pictures that are left out: table/cases, figure/curve. */
  leftOut: string[];
  /** Whether all rows of long tables go in. */
  allRows: boolean;
  name: string;
  course: string;
  /** Whether the date stands in the title block. */
  dated: boolean;
}

/** Where sheets are of letter size (CLDR, paperSize). */
const letterIn = /-(US|CA|MX|CL|CO|CR|DO|GT|NI|PA|PH|PR|SV|VE|BZ)$/;

const size = letterIn.test(navigator.language) ? "letter" : "a4";
const first: Paper = {
  what: "full",
  size,
  without: [],
  leftOut: [],
  allRows: false,
  name: "",
  course: "",
  dated: false,
};

/** usePaper is what goes onto paper. */
export function usePaper(): [Paper, (paper: Paper) => void] {
  const [remembered, setPaper] = useRemembered<Paper>("paper", first);
  return [{ ...first, ...remembered }, setPaper]; // which an earlier Grund may have written
}

/** The forms in which a document is saved. */
type Format = "html" | "odt" | "md";

/** paperOfProblem is where the working of the problem at a path is as a document, to be looked at or saved. */
export function paperOfProblem(path: string, paper: Paper, save?: Format): string {
  const query = headOf(paper, save);
  query.set("what", paper.what);
  if (paper.without.length > 0) query.set("steps", allSteps.filter((step) => !paper.without.includes(step)).join(","));
  if (paper.leftOut.length > 0) query.set("without", paper.leftOut.join(","));
  if (paper.allRows) query.set("rows", "all");
  return `${path}/paper?${query}`;
}

/** paperOfReport is where a report is as a document, to be looked at or saved. */
export const paperOfReport = (report: string, paper: Paper, save?: Format): string =>
  `/api/reports/${report}/paper?${headOf(paper, save)}`;

/** headOf asks for what every document has at its head, and for its sheets. */
function headOf(paper: Paper, save?: Format): URLSearchParams {
  const query = new URLSearchParams({ size: paper.size });
  if (paper.name) query.set("name", paper.name);
  if (paper.course) query.set("course", paper.course);
  if (paper.dated) query.set("date", new Date().toLocaleDateString("en-GB", { dateStyle: "long" }));
  if (save) {
    query.set("save", "1");
    query.set("format", save);
  }
  return query;
}

const allSteps = [
  "question",
  "data",
  "look",
  "hypotheses",
  "conditions",
  "statistic",
  "critical-value",
  "p-value",
  "decision",
  "conclusion",
  "report",
  "follow-up",
];

/** printPaper prints a document without leaving the page. */
export function printPaper(url: string) {
  document.getElementById("paper")?.remove();
  const frame = document.createElement("iframe");
  frame.id = "paper";
  frame.title = "What is printed";
  frame.className = "sr-only";
  frame.src = url;
  frame.onload = () => {
    // Pictures and fonts are in the document; they are laid out before it is printed.
    void frame.contentDocument?.fonts.ready.then(() => {
      frame.contentWindow?.focus();
      frame.contentWindow?.print();
    });
  };
  document.body.append(frame);
}
