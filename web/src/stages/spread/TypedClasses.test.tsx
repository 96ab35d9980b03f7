// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { listed } from "../../api/readings";
import { answers } from "../../testing/answers";
import { nth } from "../../values";
import { boundariesTyped } from "./boundariesTyped";
import { TypedClasses } from "./TypedClasses";
import { setsNoClasses } from "./useSpreadChoices";

const classes = answers.spread.classes && listed(answers.spread.classes);

describe("classes as they are typed", () => {
  afterEach(cleanup);

  it("by number, by width and start, or by boundaries; what cannot be changes nothing", () => {
    if (!classes) throw new Error("no classes");
    const onChange = vi.fn();
    render(<TypedClasses classes={classes} unit="mm" onChange={onChange} />);
    const type = (label: string | RegExp, text: string) =>
      fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
    const set = (i: number) => fireEvent.click(nth(screen.getAllByRole("button", { name: "Set" }), i));
    type("Number of classes", "12");
    set(0);
    expect(onChange).toHaveBeenLastCalledWith({ ...setsNoClasses, count: 12 });
    type("Width (mm)", "2.5");
    type("Start", "0");
    set(1);
    expect(onChange).toHaveBeenLastCalledWith({ ...setsNoClasses, width: 2.5, start: 0 });
    type(/^Boundaries/, "30 40; 55");
    set(2);
    expect(onChange).toHaveBeenLastCalledWith({ ...setsNoClasses, boundaries: "30 40 55" });
    onChange.mockClear();
    type("Number of classes", "0");
    set(0);
    type("Width (mm)", "-1");
    set(1);
    type(/^Boundaries/, "30 forty");
    set(2);
    expect(onChange).not.toHaveBeenCalled();
    expect(screen.getByRole("alert").textContent).toBe("“forty” is no number.");
  });

  it("boundaries stand between commas, semicolons or blanks, and rise", () => {
    for (const text of ["0 2.5 5", "0, 2.5, 5", "0,2.5,5", "0; 2,5; 5", "0 2,5 5", " 0;2.5 ;5 "])
      expect(boundariesTyped(text), text).toEqual([0, 2.5, 5]);
    expect(boundariesTyped("\u22121 1e3")).toEqual([-1, 1000]);
    expect(boundariesTyped("5 2 0")).toBe("2 does not lie above 5, which stands before it.");
    expect(boundariesTyped("5")).toContain("two boundaries");
    expect(boundariesTyped(Array.from({ length: 600 }, (_, i) => i).join(" "))).toContain("600 boundaries");
  });
});
