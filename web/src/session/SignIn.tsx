import { Button, TextField } from "@mui/material";
import { type FormEvent, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import type { DemoAccount, Start } from "../types";
import { say } from "../words/i18n";
import { act, get } from "./api";
import { type ApiError, endedKey, finishLeaving, remember, remembered } from "./session";
import "./signin.css";

export default function SignIn({ again }: { again?: boolean }) {
  const { t } = useTranslation();
  const [start, setStart] = useState<Start>();
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    get("/api/start")
      .then(setStart)
      .catch(() => setStart(undefined));
  }, []);

  const signIn = async (login: string, password: string) => {
    setBusy(true);
    setWrong("");
    try {
      await finishLeaving();
      const before = remembered();
      const me = await act("/api/signin", {}, { login, password });
      remember(me);
      localStorage.removeItem(endedKey);
      if (before && before.id !== me.id) location.assign("/"); // somebody else: nothing of the one before stays on the screen
    } catch (e) {
      setWrong(say((e as ApiError).problem));
    }
    setBusy(false);
  };
  const submit = (e: FormEvent<HTMLFormElement>) => {
    e.preventDefault();
    const form = new FormData(e.currentTarget);
    void signIn(String(form.get("login")), String(form.get("password")));
  };

  return (
    <main className="signin">
      <svg className="signin-way" viewBox="0 0 40 600" preserveAspectRatio="xMidYMin slice" aria-hidden="true">
        <path d="M20 0V600" stroke="currentColor" strokeWidth="3" />
        <path d="M20 96 34 110 20 124 6 110Z" fill="currentColor" />
        <path d="M20 266 34 280 20 294 6 280Z" stroke="currentColor" strokeWidth="3" style={{ fill: "var(--blaze)" }} />
        <path d="M20 436 34 450 20 464 6 450Z" stroke="currentColor" strokeWidth="3" style={{ fill: "var(--ground)" }} />
      </svg>
      <div className="signin-page">
        <p className="signin-name">{t("app.name")}</p>
        <p className="quiet">{start?.company}</p>
        <form onSubmit={submit}>
          <h1>{t("signin.title")}</h1>
          {again && <p>{t("signin.again")}</p>}
          {localStorage.getItem(endedKey) && <p>{t("signin.ended")}</p>}
          <TextField name="login" label={t("signin.login")} autoComplete="username" required />
          <TextField name="password" label={t("signin.password")} type="password" autoComplete="current-password" required />
          <div role="alert" className="tag bad">
            {wrong}
          </div>
          <Button type="submit" variant="contained" disabled={busy}>
            {t("signin.go")}
          </Button>
        </form>
        {start && start.demo.length > 0 && <DemoAccounts accounts={start.demo} busy={busy} onPick={(a) => signIn(a.login, a.password)} />}
      </div>
    </main>
  );
}

function DemoAccounts({ accounts, busy, onPick }: { accounts: DemoAccount[]; busy: boolean; onPick: (a: DemoAccount) => void }) {
  const { t } = useTranslation();
  return (
    <section className="sec">
      <h2>{t("signin.demo")}</h2>
      <p className="small quiet">{t("signin.demoNote")}</p>
      <ul>
        {accounts.map((a) => (
          <li key={a.login}>
            <button type="button" className="demo-account" disabled={busy} onClick={() => onPick(a)}>
              <span className="strong">{a.name}</span>
              <span className="quiet">{a.roles.map((r) => t(`role.${r}`)).join(", ")}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
