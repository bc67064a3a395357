/** stepTitles are the steps of a solution as they are named where there is no solution beside. */
export const stepTitles: Readonly<Record<string, string>> = {
  question: "Question",
  data: "Data",
  look: "Look",
  hypotheses: "Hypotheses",
  conditions: "Conditions",
  statistic: "Statistic",
  "critical-value": "Critical value",
  "p-value": "p",
  decision: "Decision",
  conclusion: "Conclusion",
  report: "Report",
  "follow-up": "Follow-up",
};
