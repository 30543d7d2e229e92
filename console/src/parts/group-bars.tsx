/** How many there are in each group, as lengths of one line each; the number is printed. */
export function GroupBars({
  groupedBy,
  groups,
  tone = "bg-info",
}: {
  groupedBy: string;
  groups: { value: string; people: number }[];
  tone?: string;
}) {
  const most = Math.max(1, ...groups.map((each) => each.people));
  return (
    <section aria-label={`By ${groupedBy}`} className="mt-4 max-w-3xl">
      {groups.slice(0, 12).map((each) => (
        <div key={each.value} className="grid grid-cols-[minmax(9rem,14rem)_1fr] items-center">
          <span className="truncate py-0.5 pr-3 text-dense">{each.value || `no ${groupedBy}`}</span>
          <span className="flex items-center gap-2">
            <span className={`h-3 ${tone}`} style={{ width: `${(each.people / most) * 85}%` }} aria-hidden />
            <span className="text-dense">{each.people}</span>
          </span>
        </div>
      ))}
    </section>
  );
}
