import { significant } from "../words/numbers";

/** A number on a plate: raised powers as the type of plates sets them. */
export const writeValue = (value: number, digits = 3) => significant(value, digits);
