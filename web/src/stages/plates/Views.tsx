import type { Furnishings } from "../../api/plates";

/** How a plate is looked at: as printed, in grey, or as readers without one kind of cone see it. */
export const VIEWS = {
  "": "as printed",
  grey: "in grey",
  protan: "without red cones",
  deutan: "without green cones",
  tritan: "without blue cones",
} as const;
export type View = keyof typeof VIEWS;

/** The filters of the views, to be named by a style. */
export function ViewFilters({ furnishings }: { furnishings: Furnishings }) {
  return (
    <svg aria-hidden="true" className="absolute size-0">
      {Object.entries(furnishings.views).map(([name, matrix]) => (
        <filter key={name} id={`view-${name}`} colorInterpolationFilters="linearRGB">
          <feColorMatrix type="matrix" values={`${matrix.map((row) => `${row.join(" ")} 0 0`).join(" ")} 0 0 0 1 0`} />
        </filter>
      ))}
    </svg>
  );
}

export const filterOf = (view: View) => (view ? `url(#view-${view})` : undefined);
