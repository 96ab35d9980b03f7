declare module "*.ttf" {
  const address: string;
  // biome-ignore lint/style/noDefaultExport: how the bundler gives an address
  export default address;
}
declare module "opentype.js" {
  type Path = { toPathData: (decimals: number) => string };
  type Font = { getPath: (text: string, x: number, y: number, size: number, options: { kerning: boolean }) => Path };
  export function parse(bytes: ArrayBuffer): Font;
}
