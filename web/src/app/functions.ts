import type { Findable } from "./finding";

/** A function, and where it is: a lead on the table at hand, or an address. opens: the choice that opens there, by the
 * beginning of its name. */
export type Function = Findable & { to: string; opens?: string };

const SPREAD = "go:spread?variable={number}";
const COMPARE = "go:compare?variable={number}&by={group}";
const RELATE = "go:relate?variable={number2}&x={number}";
const SCREEN = "go:screen?variable={number}";
const RESCALE = "go:rescale?variable={number}";

const of = (
  to: string,
  note: string,
  listed: Record<string, string | [words: string, opens: string] | { words: string; to: string }>,
) =>
  Object.entries(listed).map(([label, said]): Function => {
    if (typeof said === "string") return { label, note, words: said, to };
    if (Array.isArray(said)) return { label, note, words: said[0], to, opens: said[1] };
    return { label, note, words: said.words, to: said.to };
  });

/** Every function of the stages, by its names and those that others have for it. */
export const FUNCTIONS: readonly Function[] = [
  ...of(SPREAD, "Spread", {
    Histogram: "bars distribution frequency classes shape",
    "Classes of a histogram": ["bin bins breaks width binwidth number", "Classes"],
    "Density curve": "kde kernel smooth distribution",
    "Bandwidth of a density": ["kde smoothing width", "Bandwidth"],
    "Box plot": "boxplot whisker quartile fences",
    "Whiskers of a box plot": ["whisker fence range percentile outliers", "Whiskers reach"],
    "Violin plot": "density mirrored",
    "Rug plot": "ticks marks",
    "Quartiles and percentiles": ["quantile quartile percentile definition hinges", "Quantile definition"],
    "Q-Q plot": "qq normal quantile probability normality shapiro",
    "Tests of normality": ["shapiro wilk anderson darling lilliefors jarque bera normal", "all tests"],
    "Numbers of one variable": [
      "descriptive statistics mean median sd skewness kurtosis summary reading",
      "Statistics listed",
    ],
    "Split by groups": ["by facet panels strata subset", "Split by"],
    "Small panels": ["facet small multiples trellis", "Panels"],
    "Cumulative shares": { words: "ecdf ogive cumulative distribution polygon", to: `${SPREAD}&as=cumulative` },
    "Values in order": { words: "run chart trend sequence time series drift index", to: `${SPREAD}&as=order` },
    "Control chart": {
      words: "spc shewhart process limits individuals xbar capability cpk",
      to: `${SPREAD}&as=control`,
    },
    "Frequency table": { words: "counts percents tabulate frequencies levels cross", to: `${SPREAD}&as=table` },
    "Frequencies of levels": { words: "bar chart counts categories", to: "go:spread?variable={level}" },
    "Rows over time": { words: "dates calendar per month day", to: "go:spread?variable={time}" },
    "Line-up": { words: "visual test inference normal samples", to: "go:line-up?variable={number}" },
    "All variables at a glance": { words: "overview missing summary codebook all", to: "go:overview" },
  }),
  ...of(RESCALE, "Rescale", {
    "Logarithm of a variable": "log ln log10 transform skew",
    "Ladder of powers": "box cox yeo johnson power root square reciprocal transformation",
    "Standard scores": "z score standardize normalize",
    "Percents of a baseline": "relative index control",
    "Changes along an order": "difference lag ratio growth earlier",
    "Ranges with labels": "cut discretize bands categories binned recode groups",
    "Calculate a variable": "expression formula compute arithmetic new derive",
  }),
  ...of(SCREEN, "Screen", {
    "Outliers of a variable": "outlier extreme grubbs rosner mad fences rules suspicious",
    "Results with and without rows": "sensitivity leave out jackknife",
    "Outliers over several variables": {
      words: "mahalanobis robust distance multivariate",
      to: `${SCREEN}&mode=together`,
    },
    "Influence on a relation": {
      words: "cook leverage dffits residual regression diagnostics",
      to: `${SCREEN}&mode=relation`,
    },
    "Set rows aside": "exclude remove delete drop filter rows",
  }),
  ...of(COMPARE, "Compare", {
    "Groups side by side": "compare means anova t test groups",
    "Bars of groups": ["error bar sd se ci confidence interval whiskers", "Bars"],
    "Centres of groups": ["mean median trimmed geometric", "Centre"],
    "Scatter of points": ["jitter strip dot swarm overlap points", "Points"],
    "Order of groups": ["sort arrange levels", "Order of groups"],
    "A second grouping": ["interaction factor two way cluster", "Second grouping"],
    "Differences between groups": "effect size cohen hedges mean difference pairwise tukey holm",
    "Values as labels": ["annotate numbers data labels", "Values as labels"],
    "Shares of answers": {
      words: "likert percent stacked bar proportion",
      to: "go:compare?variable={level}&by={group}",
    },
    "Summarized results": { words: "forest plot meta estimates limits interval", to: "go:compare?mode=results" },
    "What n counts": ["unit rows pseudoreplication clusters", "What n counts"],
  }),
  ...of(RELATE, "Relate", {
    "Scatter plot": "xy relation two variables",
    "Line through pairs": ["regression trend fit least squares theil sen lowess loess", "Fitted line"],
    Correlations: "pearson spearman kendall coefficient r",
    "Many points": ["overplotting hexagon hexbin density contour transparency alpha opacity", "Pairs as"],
    "Logarithmic axes": ["log log scale axis", "Scale of x"],
    "Marginal pictures": ["margins histogram sides", "Margins"],
    Straighten: { words: "linearize transform bend", to: `${RELATE}&view=board` },
    "Every pair": { words: "matrix pairs plot correlation heatmap", to: "go:relate?view=matrix" },
    "Agreement of two methods": { words: "bland altman difference bias limits", to: `${RELATE}&view=agreement` },
  }),
  ...of("go:grid", "the rows", {
    "Rows of the table": "data view spreadsheet browse grid",
    "Correct a value": "edit cell fix change typo",
    "Sort and filter rows": "order search narrow query",
  }),
  ...of("go:variables", "the variables", {
    "What variables are": "label unit kind type codebook metadata",
    "Missing-value codes": "na null missing -99 code",
    "Order of levels": "factor category relevel recode rename",
    Weights: "frequency weight count",
    "Limits of a variable": "range minimum maximum specification detection",
  }),
  ...of("go:rearrange", "tables", {
    "Rearrange a table": "pivot melt reshape long wide transpose",
    "Join or stack tables": "merge append concat lookup",
    "Part of a table": "subset filter rows columns",
  }),
];

/** What a study offers beyond its tables. */
export const studyFunctions = (study: string): readonly Function[] => [
  ...of("/account", "Account", {
    "Change the password": "account login security",
    "Browsers that are signed in": "session sign out device",
    "Personal tokens": "api key program script access",
    "Download all of my data": "export account privacy backup",
    "Remove the account": "delete close leave",
  }),
  ...of(`/studies/${study}/intake`, "Intake", {
    "Bring in a file": "import upload open load read csv spreadsheet data new table",
    "Paste or type a table": "clipboard enter data",
    "Simulate a table": "random generate sample monte carlo",
    "Remove a table": "delete drop",
    "Read a file again": "reimport refresh update",
  }),
  ...of(`/studies/${study}/plates`, "Plates", {
    "Plates and tables of the study": "gallery figures kept",
    "Download all figures": "export save png svg pdf tiff picture image",
    "New report": "document word docx pdf export write paper",
  }),
  ...Object.entries({
    methods: ["Methods paragraph", "references citations write paper"],
    script: ["Script in Python", "code reproducible export program"],
    routine: ["Routine for the next file", "repeat automate template macro"],
    package: ["Package of the study", "backup archive export save zip"],
    people: ["People and links", "share invite collaborate team permission"],
  }).map(([as, [label = "", words = ""]]) => ({
    label,
    note: "Share",
    words,
    to: `/studies/${study}/record?as=${as}`,
  })),
  { label: "Help", note: "pages", words: "manual documentation how guide tutorial question", to: "/help" },
  {
    label: "From a question to a picture",
    note: "Help",
    words: "which how tutorial question start",
    to: "/help/questions",
  },
  { label: "Shortcuts", note: "Help", words: "keys keyboard hotkeys", to: "/help/shortcuts" },
  { label: "What a program can ask", note: "API", words: "api rest token developer http", to: "/reference" },
];
