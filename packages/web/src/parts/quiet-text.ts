import { useEffect, useState } from "react";

/** A text once it has stayed the same for a moment: several quick changes ask one question. */
export function useQuietText(text: string): string {
  const [late, setLate] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setLate(text), 250);
    return () => clearTimeout(timer);
  }, [text]);
  return late;
}
