export { GalleryStage } from "./GalleryStage";
export { PlateStage } from "./PlateStage";
