import type { Draft, DraftGroup } from "../api/types";

const blank = (): DraftGroup => ({ label: "", n: "", mean: "", sd: "" });

/** summaryOf returns the groups of a draft's summary; two to be filled where there are none yet. */
export const summaryOf = ({ summary }: Draft): DraftGroup[] => (summary.length > 0 ? summary : [blank(), blank()]);
