import { hashKey } from "@tanstack/react-query";

/** same reports whether two values of JSON are equal, whatever the order of their keys; what is missing equals null. */
export const same = (a: unknown, b: unknown): boolean => hashKey([a ?? null]) === hashKey([b ?? null]);
