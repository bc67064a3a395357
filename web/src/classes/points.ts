/** points are a mark as it is shown: to two decimal places, without noughts at their end. */
export const points = (x: number): string => String(Math.round(x * 100) / 100);
