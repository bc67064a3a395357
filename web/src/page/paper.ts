import { useRemembered } from "../lib/remembered";

/** What goes onto paper; it is remembered, for all problems. */
export interface Paper {
  what: "full" | "short" | "report";
  /** The sheets that the printer takes. */
  size: "a4" | "letter";
  /** The steps that are left out. */
  without: string[];
  name: string;
  course: string;
  /** Whether the date stands in the title block. */
  dated: boolean;
}

/** Where sheets are of letter size (CLDR, paperSize). */
const letterIn = /-(US|CA|MX|CL|CO|CR|DO|GT|NI|PA|PH|PR|SV|VE|BZ)$/;

const size = letterIn.test(navigator.language) ? "letter" : "a4";
const first: Paper = { what: "full", size, without: [], name: "", course: "", dated: false };

/** usePaper is what goes onto paper, and where that document is. */
export function usePaper(problem: string): {
  paper: Paper;
  setPaper: (paper: Paper) => void;
  url: (save?: "html" | "odt") => string;
} {
  const [remembered, setPaper] = useRemembered<Paper>("paper", first);
  const paper = { ...first, ...remembered }; // which an earlier Grund may have written
  const url = (save?: "html" | "odt") => {
    const query = new URLSearchParams({ what: paper.what, size: paper.size });
    const steps = allSteps.filter((step) => !paper.without.includes(step));
    if (paper.without.length > 0) query.set("steps", steps.join(","));
    if (paper.name) query.set("name", paper.name);
    if (paper.course) query.set("course", paper.course);
    if (paper.dated) query.set("date", new Date().toLocaleDateString("en-GB", { dateStyle: "long" }));
    if (save) {
      query.set("save", "1");
      query.set("format", save);
    }
    return `/api/problems/${problem}/paper?${query}`;
  };
  return { paper, setPaper, url };
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
