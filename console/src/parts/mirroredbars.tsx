/** Gains and losses around one line: losses left, gains right, the number at the end of each bar. */
export function MirroredBars({
  title,
  rows,
}: {
  title: string;
  rows: { name: string; losses: number; gains: number }[];
}) {
  const most = Math.max(1, ...rows.map((row) => Math.max(row.losses, row.gains)));
  return (
    <div
      role="img"
      aria-label={`${title}: ${rows.map((r) => `${r.name} loses ${r.losses}, gains ${r.gains}`).join("; ")}`}
    >
      {rows.map((row) => (
        <div key={row.name} className="grid grid-cols-[minmax(7rem,11rem)_1fr_1fr] items-center">
          <div className="truncate py-1 pr-3">{row.name}</div>
          <div className="flex h-8 items-center justify-end gap-2 border-r-2 border-ink">
            <span className="text-dense text-danger">{row.losses > 0 ? row.losses : ""}</span>
            <span className="h-4 bg-danger" style={{ width: `${(row.losses / most) * 80}%` }} />
          </div>
          <div className="flex h-8 items-center gap-2">
            <span className="h-4 bg-success" style={{ width: `${(row.gains / most) * 80}%` }} />
            <span className="text-dense text-success">{row.gains > 0 ? row.gains : ""}</span>
          </div>
        </div>
      ))}
    </div>
  );
}
