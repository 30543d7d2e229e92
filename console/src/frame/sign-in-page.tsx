import { zodResolver } from "@hookform/resolvers/zod";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { useForm } from "react-hook-form";
import { useNavigate, useSearchParams } from "react-router";
import { z } from "zod";
import { api, data } from "../api/client";
import { sessionKey, useSession } from "../api/session";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { Fault } from "../parts/states";
import { Mark } from "./mark";

const form = z.object({
  login: z.string().trim().min(1, "Say your sign-in name."),
  password: z.string().min(1, "Say your password."),
});

const change = z
  .object({
    password: z.string().min(1, "Say the password you have."),
    newPassword: z.string().min(10, "A password has at least 10 characters."),
    again: z.string(),
  })
  .refine((body) => body.newPassword === body.again, {
    path: ["again"],
    message: "The two are not the same.",
  });

/** The door. */
export function SignInPage() {
  const [query] = useSearchParams();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { data: session } = useSession();
  const to = query.get("to")?.startsWith("/") ? query.get("to")! : "/";
  const { register, handleSubmit, formState } = useForm({ resolver: zodResolver(form) });
  const signIn = useMutation({
    mutationFn: (body: z.infer<typeof form>) => data(api.POST("/api/v1/session", { body })),
    onSuccess: async () => {
      await queries.resetQueries({ queryKey: sessionKey });
      navigate(to, { replace: true });
    },
  });
  useEffect(() => {
    document.title = "Sign in · Glenmoor";
    if (session?.signedIn) navigate(to, { replace: true });
  }, [session, navigate, to]);
  return (
    <main className="grid min-h-dvh grid-rows-[1fr_auto_2fr] px-6">
      <div />
      <form
        noValidate
        onSubmit={(event) => void handleSubmit((body) => signIn.mutate(body))(event)}
        className="mx-auto w-full max-w-sm"
      >
        <h1 className="mb-1 flex items-center gap-3 text-title font-bold">
          <Mark /> Glenmoor
        </h1>
        <p className="mb-6 text-muted">Who has what, since when, and why.</p>
        {signIn.error && <Fault problem={signIn.error} />}
        <Field
          label="Sign-in name"
          autoFocus
          autoComplete="username"
          autoCapitalize="none"
          wrong={formState.errors.login?.message}
          className="mt-4"
          {...register("login")}
        />
        <Field
          label="Password"
          type="password"
          autoComplete="current-password"
          wrong={formState.errors.password?.message}
          className="mt-4"
          {...register("password")}
        />
        <Button
          kind="primary"
          type="submit"
          disabled={signIn.isPending}
          className="mt-6 w-full justify-center"
        >
          {signIn.isPending ? "Signing in" : "Sign in"}
        </Button>
      </form>
      <Horizon />
    </main>
  );
}

/** A new password: the first one, which somebody else chose, has to be changed before anything else. */
export function PasswordPage() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { data: session } = useSession();
  const { register, handleSubmit, formState } = useForm({ resolver: zodResolver(change) });
  const login = session?.login ?? "";
  const setPassword = useMutation({
    mutationFn: async ({ password, newPassword }: z.infer<typeof change>) => {
      await data(api.POST("/api/v1/session/password", { body: { login, password, newPassword } }));
      return data(api.POST("/api/v1/session", { body: { login, password: newPassword } }));
    },
    onSuccess: async () => {
      await queries.resetQueries({ queryKey: sessionKey });
      navigate("/", { replace: true });
    },
  });
  useEffect(() => {
    document.title = "New password · Glenmoor";
    if (session && !session.signedIn) navigate("/sign-in", { replace: true });
  }, [session, navigate]);
  return (
    <main className="grid min-h-dvh grid-rows-[1fr_auto_2fr] px-6">
      <div />
      <form
        noValidate
        onSubmit={(event) => void handleSubmit((body) => setPassword.mutate(body))(event)}
        className="mx-auto w-full max-w-sm"
      >
        <h1 className="mb-1 flex items-center gap-3 text-title font-bold">
          <Mark /> A new password
        </h1>
        <p className="mb-6 text-muted">
          {session?.mustChangePassword
            ? "Somebody else chose the one you have; nobody but you should know it."
            : "Your other sessions and your tokens end with the one you have."}
        </p>
        {setPassword.error && <Fault problem={setPassword.error} />}
        <input type="text" name="username" autoComplete="username" value={login} readOnly hidden />
        <Field
          label="The one you have"
          type="password"
          autoFocus
          autoComplete="current-password"
          wrong={formState.errors.password?.message}
          className="mt-4"
          {...register("password")}
        />
        <Field
          label="A new one, of at least 10 characters"
          type="password"
          autoComplete="new-password"
          wrong={formState.errors.newPassword?.message}
          className="mt-4"
          {...register("newPassword")}
        />
        <Field
          label="The new one again"
          type="password"
          autoComplete="new-password"
          wrong={formState.errors.again?.message}
          className="mt-4"
          {...register("again")}
        />
        <div className="mt-6 flex gap-3">
          <Button kind="primary" type="submit" disabled={setPassword.isPending}>
            {setPassword.isPending ? "Changing" : "Change the password"}
          </Button>
          {!session?.mustChangePassword && <Button onClick={() => navigate(-1)}>Leave it</Button>}
        </div>
      </form>
      <Horizon />
    </main>
  );
}

/** A moor under changing weather, in a few lines. */
function Horizon() {
  return (
    <svg
      viewBox="0 0 1200 260"
      preserveAspectRatio="none"
      className="mt-16 h-full max-h-80 w-full self-end"
      aria-hidden
    >
      <path
        d="M0 90 C 200 60 340 120 560 86 S 960 60 1200 100"
        className="fill-none stroke-rule"
        strokeWidth="2"
      />
      <path
        d="M0 140 C 260 104 420 168 700 126 S 1040 120 1200 142 V260 H0 Z"
        className="fill-success-wash"
      />
      <path d="M0 186 C 220 160 520 214 780 178 S 1080 178 1200 190 V260 H0 Z" className="fill-accent-wash" />
      <path d="M860 40 V240" className="stroke-ink" strokeWidth="1.5" vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
