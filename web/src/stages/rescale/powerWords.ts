/** The steps of the ladder as they are written. */
export const POWER_WORDS: Record<string, string> = {
  "-2": "−1/x²",
  "-1": "−1/x",
  "-0.5": "−1/√x",
  "0": "log x",
  "0.5": "√x",
  "1": "x",
  "2": "x²",
  "3": "x³",
};
