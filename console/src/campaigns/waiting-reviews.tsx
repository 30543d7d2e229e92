import { Heading } from "../parts/title";
import { Announced } from "./announced";
import { OneReview } from "./reviews-page";
import { useReviews, waits } from "./use-reviews";

/** On Today: what is mine to judge, and what is to go from me. */
export function WaitingReviews() {
  const { data: reviews = [] } = useReviews();
  const open = reviews.filter(waits);
  return (
    <>
      {open.length > 0 && (
        <>
          <Heading>Yours to judge</Heading>
          <ul className="border-t border-rule">
            {open.map((review) => (
              <OneReview key={review.id} review={review} />
            ))}
          </ul>
        </>
      )}
      <Announced />
    </>
  );
}
