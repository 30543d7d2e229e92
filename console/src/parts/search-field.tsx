import { useEffect, useState } from "react";
import { Field } from "./field";

/** What somebody searches a list by: it counts once they stop typing for a moment. */
export function SearchField({
  label,
  placeholder,
  text,
  set,
}: {
  label: string;
  placeholder: string;
  text: string;
  set: (text: string) => void;
}) {
  const [typed, setTyped] = useState(text);
  useEffect(() => setTyped(text), [text]);
  useEffect(() => {
    const later = setTimeout(() => typed !== text && set(typed), 250);
    return () => clearTimeout(later);
  }, [typed, text, set]);
  return (
    <Field
      label={label}
      hideLabel
      type="search"
      placeholder={placeholder}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      className="w-60"
    />
  );
}
