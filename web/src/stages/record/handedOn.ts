/** The forms in which a study is handed on, as they stand in an address and in words. */
export const HANDED_ON = {
  methods: "a methods paragraph",
  script: "a script in Python",
  routine: "a routine to run again",
  package: "a package that opens again",
  people: "a study shared with others",
} as const;

export type HandedOn = keyof typeof HANDED_ON;
