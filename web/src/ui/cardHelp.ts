import { createContext, type ReactNode } from "react";

/** What stands in the head of a card and tells about it; null where nothing does. help: its page, where it has its own. */
export const CardHelp = createContext<((help: string | undefined, title: string) => ReactNode) | null>(null);
