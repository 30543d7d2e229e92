import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { count } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { Title } from "../parts/title";

/** The portfolios that whoever is signed in looks after. */
export function PortfoliosPage() {
  const { data: page, error } = useQuery({
    queryKey: ["portfolios"],
    queryFn: () => data(api.GET("/api/v1/portfolios", { params: { query: { limit: 500 } } })),
  });
  if (error) return <Fault problem={error} />;
  if (!page) return <Waiting what="portfolios" />;
  return (
    <>
      <Title strong="Access">what packages are made of, and who looks after it</Title>
      {page.items.length === 0 ? (
        <div className="mt-4">
          <Empty title="No portfolio is yours.">
            An administrator defines portfolios, and gives you the duty steward or bundler of one.
          </Empty>
        </div>
      ) : (
        <ul className="mt-4 border-t border-rule">
          {page.items.map((each) => (
            <li key={each.key} className="flex flex-wrap items-baseline gap-x-6 border-b border-rule py-2">
              <Link to={`/portfolios/${each.key}`} className="min-w-40 font-bold">
                {each.name}
              </Link>
              <span>{count(each.packages, "package", "packages")}</span>
              <span className="text-muted">{count(each.entitlements, "entitlement", "entitlements")}</span>
              <span className="ml-auto font-mono text-dense text-muted">{each.key}</span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
