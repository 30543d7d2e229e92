import { PauseCircle } from "lucide-react";
import { Link } from "react-router";
import { useZone } from "../api/session";
import { day, time } from "../parts/moments";
import { useInstallation } from "../api/installation";

/** Says on every page that nothing is sent, while this installation is quiet. */
export function QuietLine() {
  const zone = useZone();
  const { data: shown } = useInstallation();
  if (!shown?.quiet) return null;
  return (
    <p
      role="status"
      className="flex items-center gap-2 border-b border-rule bg-muted-wash px-4 py-1 text-dense text-warning md:px-7"
    >
      <PauseCircle size={14} aria-hidden />
      <span className="min-w-0 grow">
        This installation is quiet
        {shown.since && ` since ${day(shown.since, zone)}, ${time(shown.since, zone)}`}: it plans and shows,
        and sends nothing.
      </span>
      <Link to="/installation" className="shrink-0 underline">
        Details
      </Link>
    </p>
  );
}
