import { useState } from "react";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";

/** What was done, in sentences for a methods section. */
export function ReportCard({ said }: { said: string[] }) {
  const text = said.join(" ");
  const [copied, setCopied] = useState(false);
  if (!text) return null;
  return (
    <Card
      title="For a methods section"
      className="shrink-0"
      aside={
        <Button
          look="word"
          className="text-small!"
          onClick={() => navigator.clipboard.writeText(text).then(() => setCopied(true))}
        >
          {copied ? "copied" : "copy"}
        </Button>
      }
    >
      <p className="px-3.5 py-2 font-serif text-lead">{text}</p>
    </Card>
  );
}
