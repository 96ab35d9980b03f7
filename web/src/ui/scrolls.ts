/** What scrolls and holds nothing that takes the focus can be reached by keys. */
export const SCROLLS = { tabIndex: 0 } as const;
