import { expect, test } from "vitest";
import {
  evenBoundaries,
  fixed,
  measured,
  readNamed,
  readNames,
  readNumber,
  readNumbers,
  readPlaces,
  writeNumber,
  writeValue,
} from "./number";

test.each([
  ["12.5", 12.5],
  [" −0,8 ", -0.8],
  ["-3", -3],
  ["1e3", 1000],
])("%s is read as a number", (text, number) => expect(readNumber(text)).toBe(number));

test.each(["", "  ", "abc", "1.2.3", "1 min"])("“%s” is no number", (text) => expect(readNumber(text)).toBeNaN());

test("what is written can be read", () => {
  for (const x of [0, -0.25, 1e-7, 41]) expect(readNumber(writeNumber(x))).toBe(x);
});

test.each([
  ["2 : 1 : 1", [2, 1, 1]],
  ["0; 20; 40", [0, 20, 40]],
  ["0,5; 0,25; 0,25", [0.5, 0.25, 0.25]],
  ["1, 2, 3", [1, 2, 3]],
  ["−10 0 10", [-10, 0, 10]],
])("%s is a list of numbers", (text, numbers) => {
  expect(readNumbers(text)).toEqual(numbers);
  expect(readNumbers(writeValue(numbers))).toEqual(numbers);
});

test.each(["", "equal", "1; two; 3"])("“%s” is no list of numbers", (text) => expect(readNumbers(text)).toBeNull());

test("numbers by name", () => {
  expect(readNamed("mean = 12; sd=3,5")).toEqual({ mean: 12, sd: 3.5 });
  expect(readNamed(writeValue({ rate: 0.025 }))).toEqual({ rate: 0.025 });
  expect(readNamed("mean")).toBeNull();
  expect(readNamed("")).toBeNull();
});

test("classes of one width run from the start up to the end", () => {
  expect(evenBoundaries(0, 25, 100)).toEqual([0, 25, 50, 75, 100]);
  expect(evenBoundaries(0, 30, 100)).toEqual([0, 30, 60, 90, 120]);
  expect(evenBoundaries(0.1, 0.1, 0.5)).toEqual([0.1, 0.2, 0.3, 0.4, 0.5]);
  expect(evenBoundaries(0, 500, 100)).toEqual([0, 500, 1000]);
  expect(evenBoundaries(0, 0, 100)).toContain("above 0");
  expect(evenBoundaries(0, 0.5, 100)).toContain("200 classes");
  expect(evenBoundaries(Number.NaN, 5, 100)).toContain("Numbers");
});

test("lists are read a line each", () => {
  const places = [
    [36, 4.5, "Puffin"],
    [-2, 1, "Dunlin of the north"],
  ];
  expect(readPlaces("36; 4,5; Puffin\n\n −2, 1, Dunlin of the north ")).toEqual(places);
  expect(readPlaces(writeValue(places))).toEqual(places);
  expect(readNames("minutes; wind\nvehicles")).toEqual([["minutes", "wind"], ["vehicles"]]);
  expect(readNames(" \n")).toBeNull();
});

test("a tie is rounded away from zero, on the decimal digits", () => {
  expect([fixed(9.625, 2), fixed(-9.625, 2), fixed(2.675, 2), fixed(1.005, 2), fixed(0.5, 0), fixed(2.5, 0)]).toEqual([
    "9.63",
    "−9.63",
    "2.68",
    "1.01",
    "1",
    "3",
  ]);
  expect([fixed(-0.0004, 3), fixed(1e-9, 2), fixed(12, 1), fixed(1e21, 0)]).toEqual(["0.000", "0.00", "12.0", "1e+21"]);
});

test.each([
  [2.035714285714285, "2.0357"],
  [-0.1 - 0.2, "−0.3"],
  [1234567.5, "1234567.5"],
  [12.38, "12.38"],
  [1 / 3e9, "3.3333e−10"],
])("%s is read at a dot as %s", (x, text) => expect(measured(x)).toBe(text));
