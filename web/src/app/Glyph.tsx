export function Glyph({ className = "" }: { className?: string }) {
  return <img src="/static/heron.svg" alt="" className={className} />;
}
