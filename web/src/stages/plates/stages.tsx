export { GalleryStage } from "./GalleryStage";
export { MethodsStage } from "./MethodsStage";
export { PlateStage } from "./PlateStage";
