import { zodResolver } from "@hookform/resolvers/zod";
import { type ReactElement } from "react";
import { useForm } from "react-hook-form";
import { z } from "zod";
import { api, errorText, useSignInMutation } from "../api";
import { setSignIn, useAppDispatch } from "../store";

const schema = z.object({ token: z.string().trim().min(1, "Enter the token.") });

/** Asks for the server's token, once for each browser. */
export function SignIn(): ReactElement {
  const dispatch = useAppDispatch();
  const [signIn, { error, isLoading }] = useSignInMutation();
  const form = useForm({ resolver: zodResolver(schema), defaultValues: { token: "" } });
  const submit = form.handleSubmit(async ({ token }) => {
    const r = await signIn(token);
    if ("error" in r) return;
    dispatch(setSignIn(false));
    dispatch(api.util.resetApiState());
  });
  return (
    <div className="flex h-full items-center justify-center px-5">
      <form onSubmit={(e) => void submit(e)} className="w-105 border border-rule bg-sheet p-6" aria-label="Sign in">
        <h1 className="mb-1 text-lg font-semibold">Sign in</h1>
        <p className="dim mb-4">
          This server can be reached from other machines and asks for its token. It was set where the server was
          started, as OXTRUM_TOKEN.
        </p>
        <label className="flex flex-col gap-1">
          <span className="dim text-xs">Token</span>
          <input
            className="field num"
            type="password"
            autoComplete="current-password"
            autoFocus
            {...form.register("token")}
          />
          {form.formState.errors.token && (
            <span className="text-xs text-oxide">{form.formState.errors.token.message}</span>
          )}
        </label>
        {error && (
          <p role="alert" className="mt-3 text-oxide">
            {errorText(error)}
          </p>
        )}
        <button className="btn go mt-4" disabled={isLoading}>
          Sign in
        </button>
      </form>
    </div>
  );
}
