import { away, day } from "../parts/moments";

const YEAR = 365 * 86_400_000;

/** Twelve months to today, left to right: since when it is held as a line, when it was used last as a dot. */
export function YearOf({
  since,
  lastUsed,
  now,
  zone,
}: {
  since?: string | null;
  lastUsed?: string | null;
  now: Date;
  zone: string;
}) {
  const place = (moment: string) =>
    Math.max(0, Math.min(100, ((Date.parse(moment) - (now.getTime() - YEAR)) / YEAR) * 100));
  const from = since ? place(since) : 0;
  const words = [
    since ? `held since ${day(since, zone)}` : "nobody knows since when",
    lastUsed ? `last used ${away(lastUsed, now)}` : "no use was told of",
  ];
  return (
    <div>
      <svg viewBox="0 0 100 12" preserveAspectRatio="none" className="hidden h-3 w-full md:block" aria-hidden>
        <line x1="0" y1="6" x2="100" y2="6" className="stroke-rule" strokeWidth="1.5" />
        <line x1={from} y1="6" x2="100" y2="6" className="stroke-muted" strokeWidth="2" />
        {from > 0 && <line x1={from} y1="2" x2={from} y2="10" className="stroke-muted" strokeWidth="0.8" />}
        <line x1="99.6" y1="0" x2="99.6" y2="12" className="stroke-ink" strokeWidth="0.8" />
        {lastUsed && (
          <line
            x1={place(lastUsed)}
            y1="2.5"
            x2={place(lastUsed) + 0.01}
            y2="9.5"
            className="stroke-info"
            strokeWidth="3"
          />
        )}
      </svg>
      <p className="text-dense text-muted">{words.join(" · ")}</p>
    </div>
  );
}
