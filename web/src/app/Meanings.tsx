import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { meaningsOf } from "../api/readings";
import { useMeanings } from "../state/meanings";
import { Button } from "../ui/Button";

/** What each number means, with its formula and its source, in one table over the page. */
export function Meanings() {
  const { open, wanted: typed, setOpen, setWanted: setTyped } = useMeanings();
  const { data: chapters = [] } = useQuery({ ...meaningsOf(), enabled: open });
  const wanted = typed.trim().toLowerCase();
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-band/35" />
        <Dialog.Content
          aria-describedby={undefined}
          className="rising fixed inset-x-[max(1rem,calc(50vw-30rem))] top-12 bottom-12 z-50 flex flex-col rounded-card border border-line bg-raised shadow-float outline-none"
        >
          <header className="flex items-center gap-4 border-line border-b px-5 py-3">
            <Dialog.Title className="text-head">What each number means</Dialog.Title>
            <input
              aria-label="Find a number"
              placeholder="find"
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
              className="ml-auto min-h-7 w-52 rounded-lg border border-line-strong/60 bg-surface px-2"
            />
            <Button look="link" onClick={() => setOpen(false)}>
              close
            </Button>
          </header>
          <div className="min-h-0 flex-1 overflow-y-auto px-5 pb-5">
            {chapters.map(({ name, meanings }) => {
              const shown = meanings.filter((meaning) =>
                `${meaning.name} ${meaning.definition} ${meaning.source}`.toLowerCase().includes(wanted),
              );
              return shown.length === 0 ? null : (
                <section key={name} aria-label={name}>
                  <h3 className="pt-4 pb-1 font-serif text-lead italic">{name}</h3>
                  <dl>
                    {shown.map((meaning) => (
                      <div key={meaning.id} className="grid grid-cols-[11rem_1fr] gap-x-5 border-line border-t py-1.5">
                        <dt className="font-semibold">{meaning.name}</dt>
                        <dd>
                          {meaning.definition}
                          {meaning.source && <span className="block text-muted-ink text-small">{meaning.source}</span>}
                        </dd>
                      </div>
                    ))}
                  </dl>
                </section>
              );
            })}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
