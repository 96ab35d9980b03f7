/** The pages of docs/help, by their names, with their titles. */
const texts = import.meta.glob<string>("../../../docs/help/*.md", { query: "?raw", import: "default", eager: true });

export type HelpPage = { slug: string; title: string; text: string };

export const PAGES: readonly HelpPage[] = Object.entries(texts).map(([path, text]) => ({
  slug: path.replace(/^.*\/|\.md$/g, ""),
  title: text.match(/^# (.+)$/m)?.[1] ?? "",
  text: text.replace(/^# .+\n+/, ""),
}));

export const pageOf = (slug: string) => PAGES.find((page) => page.slug === slug);

const QUESTION = /^- \[([^\]]+)\]\((go:[^)]+)\)/gm;

/** The questions that researchers ask, each with where it leads. */
export const QUESTIONS = [...(pageOf("questions")?.text.matchAll(QUESTION) ?? [])].map(([, question, to]) => ({
  question: question ?? "",
  to: to ?? "",
}));
