import { Link } from "react-router";
import { useNow, useZone } from "../api/session";
import { ButtonLink } from "../parts/button";
import { away, count, day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Empty, Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { Announced } from "./announced";
import { Judged } from "./judged";
import { useReviews, waits, type Review } from "./use-reviews";

/** What is mine to judge: what waits, and what I have signed off. */
export function ReviewsPage() {
  const { data: reviews, error } = useReviews();
  if (error) return <PageFault problem={error} />;
  if (!reviews) return <Waiting what="reviews" />;
  const open = reviews.filter(waits);
  const done = reviews.filter((each) => !waits(each));
  const undecided = open.reduce((sum, each) => sum + each.mix.undecided, 0);
  return (
    <>
      <Title strong="Reviews">
        {open.length === 0
          ? "nothing is yours to judge"
          : `${count(undecided, "item is", "items are")} yours to judge`}
      </Title>
      {open.length === 0 && (
        <Empty title="Nothing waits for you.">
          When what people have is looked through, and some of it is yours to judge, it stands here.
        </Empty>
      )}
      <ul className={open.length > 0 ? "mt-5 border-t border-rule" : ""}>
        {open.map((review) => (
          <OneReview key={review.id} review={review} />
        ))}
      </ul>
      <Announced />
      {done.length > 0 && (
        <>
          <Heading>Signed off</Heading>
          <ul className="border-t border-rule">
            {done.map((review) => (
              <OneReview key={review.id} review={review} />
            ))}
          </ul>
        </>
      )}
    </>
  );
}

/** A review in a list: what it is, how far, and until when. */
export function OneReview({ review }: { review: Review }) {
  const zone = useZone();
  const now = useNow();
  return (
    <li className="flex flex-wrap items-center gap-x-6 gap-y-2 border-b border-rule py-3">
      <div className="min-w-64 grow">
        <Link to={`/reviews/${review.id}`} className="font-bold no-underline hover:underline">
          {review.name}
          {review.about && `: ${review.about}`}
        </Link>
        <p className="text-dense text-muted">
          {review.level > 1 && "a second look · "}
          {review.kind !== "person" && `as ${review.reviewer} · `}
          {review.signedOffAt
            ? `signed off by ${review.signedOffBy} on ${day(review.signedOffAt, zone)}`
            : `until ${day(review.dueAt, zone)}, ${away(review.dueAt, now)}`}
          {review.careful > 0 && ` · ${count(review.careful, "asks", "ask")} for a close look`}
        </p>
      </div>
      <div className="w-72">
        <Judged mix={review.mix} />
      </div>
      {waits(review) && (
        <ButtonLink kind="primary" to={`/reviews/${review.id}`}>
          Judge
        </ButtonLink>
      )}
    </li>
  );
}
