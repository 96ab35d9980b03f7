import type { Furnishings, PlateStyle } from "../../api/plates";
import { usePreferences } from "../../state/preferences";
import { nth } from "../../values";

export const stylesOf = ({ built_in, kept }: Furnishings): PlateStyle[] => [...built_in, ...kept];

/** The style that new plates take: the one that was put on last, or the first. */
export function usualStyle(furnishings: Furnishings): PlateStyle {
  const name = usePreferences.getState().plateStyle;
  const all = stylesOf(furnishings);
  return all.find((style) => style.name === name) ?? nth(all, 0);
}
