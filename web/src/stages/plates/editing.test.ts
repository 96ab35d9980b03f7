// @vitest-environment jsdom
import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Plate } from "../../api/plates";
import { answers } from "../../testing/answers";
import { changed, turned, useEditing } from "./editing";

const sent = { names: [] as string[], answer: [] as (() => void)[] };
const TAKEN = "Second";
const keeping = {
  change: (plate: Plate, name: string, document: Plate["document"]) =>
    new Promise<Plate>((resolve) => {
      sent.names.push(name);
      const own = name === TAKEN ? `${name} 2` : name;
      sent.answer.push(() => resolve({ ...plate, name: own, document, version: plate.version + 1 }));
    }),
  known: () => {},
  fetchAgain: () => {},
};

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

it("what is changed while a change is on its way is kept after it", async () => {
  const { document } = answers.plates.groups;
  const plate = { id: "1", study: "2", name: "As it was", document, version: 1 } as unknown as Plate;
  const { result } = renderHook(() => useEditing(plate, keeping));
  const pass = () => act(() => vi.advanceTimersByTimeAsync(1000));
  act(() => result.current.setName("First"));
  await pass();
  act(() => result.current.setName("Second"));
  act(() => result.current.edit((now) => changed(now, ["sheet", "width"], 120)));
  await pass();
  expect([sent.names, result.current.waiting]).toEqual([["First"], true]);
  await act(async () => sent.answer[0]?.());
  await pass();
  expect(sent.names).toEqual(["First", "Second"]);
  await act(async () => sent.answer[1]?.());
  // Another plate has that name.
  expect([result.current.name, result.current.waiting]).toEqual(["Second 2", false]);
  await pass();
  expect(sent.names).toHaveLength(2);
});

it("a panel is turned with all that was set of its axes and stands on it, and back", () => {
  const note = { kind: "note", axis: "up", x: 1, y: 50, arrow_x: 2, arrow_y: 40, text: "here" };
  const line = { kind: "line", axis: "up", at: 60, text: "limit" };
  const furnished = changed(answers.plates.groups.document, ["panels", 0, "furniture"], [note, line]);
  const document = changed(furnished, ["panels", 0, "up", "title"], "Mass") as Plate["document"];
  const panel = turned(document, 0).panels[0];
  expect(panel?.source).toMatchObject({ upright: false });
  expect([panel?.across.title, panel?.up.title]).toEqual(["Mass", null]);
  expect(panel?.furniture).toMatchObject([
    { axis: "across", x: 50, y: 1, arrow_x: 40, arrow_y: 2 },
    { axis: "across", at: 60 },
  ]);
  expect(turned(turned(document, 0), 0)).toEqual(document);
});
