/** What the cells of the table measure, in pixels. */
export const rowHeight = 28;
export const columnWidth = 120;
export const rowHeadWidth = 52;
