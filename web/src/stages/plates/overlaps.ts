import type { Finding, PlateDocument } from "../../api/plates";
import { noteOf, slipOf } from "../../figure/Furnishing";
import { boxOverMarks, type PanelPlan, type SheetPlan } from "../../figure/layout";
import { nth } from "../../values";

type Box = { text: string; part: string; left: number; top: number; right: number; bottom: number };

/** Words on a sheet that lie over one another, as the page draws them. */
export function overlapsOf(svg: SVGSVGElement): [Box, Box][] {
  const boxes: Box[] = [];
  for (const group of svg.querySelectorAll<SVGGElement>("g[data-words]")) {
    if (group.closest("[data-screen-only]")) continue;
    const { left, top, width, height } = group.getBoundingClientRect();
    if (width === 0) continue;
    // Letters do not fill their boxes: a third of the height is air.
    const air = Math.min(width, height) * 0.17;
    const part = group.closest("[data-part]")?.getAttribute("data-part") ?? "";
    boxes.push({
      text: group.dataset.words ?? "",
      part,
      left: left + 0.5,
      top: top + air,
      right: left + width - 0.5,
      bottom: top + height - air,
    });
  }
  boxes.sort((a, b) => a.left - b.left);
  const result: [Box, Box][] = [];
  for (let i = 0; i < boxes.length; i++)
    for (let j = i + 1; j < boxes.length && nth(boxes, j).left < nth(boxes, i).right; j++) {
      const [a, b] = [nth(boxes, i), nth(boxes, j)];
      if (a.top < b.bottom && b.top < a.bottom) result.push([a, b]);
    }
  return result;
}

/** The check that only the page can make, with what mends it: names of levels are turned, a note moves away. */
export function overlapFinding(svg: SVGSVGElement): Finding {
  const result = overlapsOf(svg);
  const first = result[0];
  const plain = { code: "text", panel: -1, changes: [], say: "", mend: "" };
  if (!first) return { ...plain, holds: true, words: "No words lie over one another." };
  const [a, b] = first;
  const [one, other] = [a, b].map(({ text }) => text.replace(/\^\{([^{}]*)\}/g, "^$1"));
  const words = `“${one}” and “${other}” lie over one another${result.length > 1 ? `, and ${result.length - 1} more` : ""}.`;
  const axis = [a, b].find(({ part }) => /:(across|up)$/.test(part) || /:(across|up):title$/.test(part));
  const legend = [a, b].find(({ part }) => part.endsWith(":legend"));
  const piece = [a, b].find(({ part }) => part.includes(":furniture:"));
  const panel = Number((piece ?? legend ?? axis ?? a).part.split(":")[0]) || 0;
  if (piece) {
    const k = Number(piece.part.split(":")[2]);
    return {
      ...plain,
      holds: false,
      words,
      panel,
      mend: "take the words off",
      changes: [{ path: ["panels", panel, "furniture", k, "text"], value: "" }],
    };
  }
  if (legend)
    return {
      ...plain,
      holds: false,
      words,
      panel,
      mend: "names at line ends",
      changes: [{ path: ["panels", panel, "legend", "shown"], value: "ends" }],
    };
  if (axis?.part.includes(":across"))
    return {
      ...plain,
      holds: false,
      words,
      panel,
      mend: "slant the names",
      changes: [{ path: ["panels", panel, "across", "rotation"], value: 45 }],
    };
  return {
    ...plain,
    holds: false,
    words,
    panel,
    mend: "smaller type",
    changes: [{ path: ["style", "type_size"], value: 6 }],
  };
}

/** Whether a legend, a slip or a note lies over marks of its panel, with what moves it clear of them. */
export function coveringFindings(sheet: SheetPlan, document: PlateDocument): Finding[] {
  return sheet.panels.flatMap((plan) => [...legendFinding(plan), ...furnitureFindings(plan, document)]);
}

const where = (plan: PanelPlan) => (plan.letter ? ` in panel ${plan.letter}` : "");

function legendFinding(plan: PanelPlan): Finding[] {
  if (!plan.legend) return [];
  const { over, free } = boxOverMarks(plan, plan.legend.rect);
  const plain = { code: "legend-over", panel: plan.i, holds: !over, say: "" };
  if (!over) return [{ ...plain, words: `The legend lies over no mark${where(plan)}.`, mend: "", changes: [] }];
  const legend = ["panels", plan.i, "legend"];
  return [
    {
      ...plain,
      words: `The legend lies over marks${where(plan)}.`,
      mend: free ? "move it where none are" : "names beside the marks",
      changes: free
        ? ["x", "y"].map((name) => ({ path: [...legend, name], value: null }))
        : [{ path: [...legend, "shown"], value: "ends" }],
    },
  ];
}

function furnitureFindings(plan: PanelPlan, document: PlateDocument): Finding[] {
  const { area, across, up, panel } = plan;
  return panel.furniture.flatMap((piece, k): Finding[] => {
    const slip = piece.kind === "slip" ? slipOf(plan, document, piece) : null;
    const rect = slip ?? (piece.kind === "note" ? noteOf(plan, document, piece)?.rect : null);
    if (!rect) return [];
    const { over, free } = boxOverMarks(plan, rect);
    if (!over) return [];
    const at = ["panels", plan.i, "furniture", k];
    const [x, y] = !free
      ? []
      : slip
        ? [(free.x - area.x) / area.width, (free.y - area.y) / area.height]
        : [across.invert(free.x), up.invert(free.y + document.style.type_size * 0.8)];
    return [
      {
        code: "piece-over",
        panel: plan.i,
        holds: false,
        say: "",
        words: `${slip ? "The number slip" : `The note “${piece.text}”`} lies over marks${where(plan)}.`,
        mend: free ? "move it where none are" : "",
        changes: free
          ? [
              { path: [...at, "x"], value: x },
              { path: [...at, "y"], value: y },
            ]
          : [],
      },
    ];
  });
}
