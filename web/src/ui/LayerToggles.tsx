import { ToggleGroup } from "radix-ui";

type LayerTogglesProps<Layer extends string> = {
  label: string;
  /** What layers are called, and what they show. */
  words: Readonly<Record<Layer, { readonly label: string; readonly help: string }>>;
  layers: readonly Layer[];
  shown: readonly Layer[];
  onChange: (shown: Layer[]) => void;
};

/** Which layers of a picture are drawn; each can be put on and off. */
export function LayerToggles<Layer extends string>({
  label,
  words,
  layers,
  shown,
  onChange,
}: LayerTogglesProps<Layer>) {
  return (
    <ToggleGroup.Root
      type="multiple"
      aria-label={label}
      value={[...shown]}
      onValueChange={(next) => onChange(layers.filter((layer) => next.includes(layer)))}
      className="flex flex-wrap gap-1"
    >
      {layers.map((layer) => (
        <ToggleGroup.Item
          key={layer}
          value={layer}
          title={words[layer].help || undefined}
          className="flex min-h-6 items-center gap-1.5 rounded-md px-1.5 text-muted-ink text-small hover:text-ink data-[state=on]:text-ink [&>span]:border-line-strong data-[state=on]:[&>span]:border-primary data-[state=on]:[&>span]:bg-primary"
        >
          <span aria-hidden="true" className="size-2 rounded-full border" />
          {words[layer].label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
