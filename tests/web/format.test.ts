/** Figures as a leader reads them. */
import { describe, expect, it } from "vitest";
import { digits, minutes, said, shown, spanned, unbroken } from "@/ui/format";
import type { Settings } from "@/ui/settings";

const metric = { force: "kN", length: "m", si: { kN: 1000, m: 1, lbf: 4.4482216, ft: 0.3048 } } as unknown as Settings;
const imperial = { ...metric, force: "lbf", length: "ft" } as Settings;

describe("a figure", () => {
  it.each([
    [0.123, "0.12"],
    [0.996, "1.0"],
    [3.14, "3.1"],
    [19.96, "20.0"],
    [20.4, "20"],
    [0, "0"],
    [-0.5, "-0.50"],
  ])("has as many digits as mean something: %d is %s", (value, text) => expect(digits(value)).toBe(text));

  it("is told with its range and its unit", () => {
    const pull = { low: 1300, expected: 1400, high: 1700, unit: "N" };
    expect(said(pull, metric)).toBe("1.4 kN (1.3 to 1.7)");
    expect(spanned(pull, metric)).toBe("1.3 to 1.7 kN");
  });

  it("is one figure where its ends read alike", () => {
    expect(said({ low: 1401, expected: 1402, high: 1403, unit: "N" }, metric)).toBe("1.4 kN");
  });

  it("is 225 pounds to the kilonewton and 3.28 feet to the metre", () => {
    expect(shown({ low: 1000, expected: 1000, high: 1000, unit: "N" }, imperial)).toEqual({
      value: "225",
      range: "",
      unit: "lbf",
    });
    expect(shown({ low: 1, expected: 1, high: 1, unit: "m" }, imperial).value).toBe("3.3");
  });

  it("stays on one line with its unit", () => expect(unbroken("2.4 kN at 18 m")).toBe("2.4\u00a0kN at 18\u00a0m"));

  it("tells hours from sixty minutes on, and never less than none", () => {
    expect([59.4, 60, 135, -3].map((each) => minutes(each * 60000))).toEqual([
      "59 min",
      "1 h 0 min",
      "2 h 15 min",
      "0 min",
    ]);
  });
});
