import { describe, expect, it } from "vitest";
import { DEGREES, inUnit, formatLength, formatSize, parseLength, PERCENT, PLAIN } from "./units";

describe("parseLength", () => {
  it.each([
    ["1.5", "mm", 1.5],
    ["1,5 mm", "mm", 1.5],
    ["2 cm", "mm", 20],
    ["1/16 in", "mm", 1.5875],
    ['1 1/2"', "mm", 38.1],
    ["10", "in", 254],
    ["254/2", "mm", 127],
    ["−2", "mm", -2],
    [".5 in", "mm", 12.7],
    ["5 mm", "in", 5],
    ["1/16", "in", 1.5875],
    ["3*(20+4)", "mm", 72],
    ["1 in + 5 mm", "mm", 30.4],
    ["1 in + 5", "mm", 30.4],
    ["10 + 1 cm", "in", 264],
    ["2 * 1 1/2 in", "mm", 76.2],
    ["(10 - 4) / 3 cm", "mm", 20],
    ["254 mm / 2", "in", 127],
    ["100 - 2 × 6", "mm", 88],
  ] as const)("reads %s in %s", (text, unit, mm) => {
    expect(parseLength(text, unit)).toBeCloseTo(mm, 9);
  });

  it.each(["", "wide", "1/0", "1 2", "1e9x", "--3", "mm", "2*", "(3", "3)", "1/(2-2)", "2 mm * 3 mm", "6/2 mm mm", "1.5 1/2"  ])("refuses %s", (text) => {
    expect(parseLength(text, "mm")).toBeNull();
  });

  it("reads back what it shows", () => {
    for (const mm of [0.8, 254, 12.7, -1.5, 1000]) {
      for (const unit of ["mm", "in"] as const) {
        expect(parseLength(formatLength(mm, unit), unit)).toBeCloseTo(mm, 1);
      }
    }
  });
});

it("reads percentages, angles and plain figures, sums too, but no lengths there", () => {
  expect(PERCENT.parse("75 %")).toBe(75);
  expect(PERCENT.parse("100*2/3")).toBeCloseTo(66.667, 3);
  expect(PERCENT.parse(PERCENT.format(-12.5))).toBe(-12.5);
  expect(DEGREES.parse("360/7°")).toBeCloseTo(51.4286, 4);
  expect(DEGREES.parse("−15")).toBe(-15);
  expect(DEGREES.format(-15)).toBe("−15°");
  expect(PLAIN.parse("640")).toBe(640);
  for (const text of ["3 mm", "", "wide", "%", "1/0"]) expect(PERCENT.parse(text)).toBeNull();
});

it("shows sizes in the unit", () => {
  expect(formatSize(266.04, 178, "mm")).toBe("266 × 178 mm");
  expect(formatSize(254, 127, "in")).toBe("10 × 5 in");
});

describe("sentences in the unit shown", () => {
  it("turns every length, in ranges too, and leaves her words alone", () => {
    expect(inUnit("27 strands of Lettering under 1 mm, thinnest 0.54 mm", "in")).toBe(
      "27 strands of Lettering under 0.039 in, thinnest 0.021 in",
    );
    expect(inUnit("Row 2 can be 1 to 3000 mm, not 0.01 mm.", "in")).toBe("Row 2 can be 0.039 to 118.11 in, not 0.00039 in.");
    expect(inUnit("Clearance can be -20 to 50 mm, not 99 mm.", "in")).toBe("Clearance can be -0.787 to 1.969 in, not 3.898 in.");
    expect(inUnit("1 gap in the script of “8 mm rope”: o–p 2.54 mm", "in")).toBe("1 gap in the script of “8 mm rope”: o–p 0.1 in");
    expect(inUnit("All 12 outlines closed, none crossing", "in")).toBe("All 12 outlines closed, none crossing");
    expect(inUnit("2 bits under 1 mm", "mm")).toBe("2 bits under 1 mm");
  });
});
