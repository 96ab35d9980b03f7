import type { Layer, Panel, PlateStyle, Scene } from "../api/plates";
import type { PlateAxis } from "./axis";
import type { Rect } from "./layout";
import type { Look } from "./look";

/** What the marks of a layer are drawn with. */
export type FormProps = {
  layer: Layer;
  /** Among the layers of its panel, and the panel's among those of the sheet: names of clippings come of it. */
  name: string;
  panel: Panel;
  panelPlace: number;
  look: Look;
  /** Whether series are told apart, by colour or place. */
  keyed: boolean;
  across: PlateAxis;
  up: PlateAxis;
  /** All of the data area, strips among it. */
  area: Rect;
  style: PlateStyle;
  scene: Scene;
};
