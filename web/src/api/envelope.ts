import type { components } from "./schema.gen";

type ArrayPlace = components["schemas"]["Array"];

/** An answer as the interface uses it: each place of an array in the envelope is that array. */
export type Unpacked<T> = T extends ArrayPlace
  ? Float64Array
  : T extends (infer Item)[]
    ? Unpacked<Item>[]
    : T extends object
      ? { [Key in keyof T]: Unpacked<T[Key]> }
      : T;

function isPlace(value: object): value is ArrayPlace {
  return "dtype" in value && "offset" in value && "length" in value;
}

/** Read an envelope: header length, JSON, and the long arrays behind it on multiples of 8 bytes. */
export function unpack<T>(body: ArrayBuffer): Unpacked<T> {
  const headerLength = new DataView(body).getUint32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(body, 4, headerLength)));
  const start = Math.ceil((4 + headerLength) / 8) * 8;
  const resolve = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(resolve);
    if (value === null || typeof value !== "object") return value;
    if (!isPlace(value)) return Object.fromEntries(Object.entries(value).map(([key, item]) => [key, resolve(item)]));
    if (value.dtype === "float64") return new Float64Array(body, start + value.offset, value.length);
    return Float64Array.from(new Int32Array(body, start + value.offset, value.length));
  };
  return resolve(header) as Unpacked<T>;
}
