import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { count } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Empty, Waiting } from "../parts/states";
import { Title } from "../parts/title";

/** The portfolios that whoever is signed in looks after. */
export function PortfoliosPage() {
  const { data: page, error } = useQuery({
    queryKey: ["portfolios"],
    queryFn: () => data(api.GET("/api/v1/portfolios", { params: { query: { limit: 500 } } })),
  });
  if (error) return <PageFault problem={error} />;
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
            <li
              key={each.key}
              className="grid items-baseline gap-x-6 border-b border-rule py-2 sm:grid-cols-[1fr_6rem_8rem] lg:grid-cols-[14rem_6rem_8rem_1fr]"
            >
              <span>
                <Link to={`/portfolios/${each.key}`} className="font-bold">
                  {each.name}
                </Link>
                <span className="block font-mono text-dense text-muted">{each.key}</span>
              </span>
              <span>{count(each.packages, "package", "packages")}</span>
              <span className="text-muted">{count(each.entitlements, "entitlement", "entitlements")}</span>
              <span className="text-muted">
                {each.stewards.length > 0
                  ? `looked after by ${each.stewards.map((who) => who.name).join(", ")}`
                  : "nobody looks after it"}
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
