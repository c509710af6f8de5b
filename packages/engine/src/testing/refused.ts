/** What a script is told that does what is not allowed; "taken" when nothing stops it. */
export const refused = (make: () => unknown): string => {
  try {
    make();
    return "taken";
  } catch (e) {
    return (e as Error).message;
  }
};
