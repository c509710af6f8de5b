/**
 * Takes the token from the link that the server's terminal prints (`#token=…`), signs in with it and takes it out of
 * the address, so that it stays neither in the history nor in anything that is copied.
 */
export async function signInByLink(): Promise<void> {
  const token = new URLSearchParams(window.location.hash.slice(1)).get("token");
  if (token === null) return;
  window.history.replaceState(null, "", window.location.pathname + window.location.search);
  try {
    await fetch("/api/session", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ token }),
    });
  } catch {
    // The page then asks for it.
  }
}
