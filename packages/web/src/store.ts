import {
  configureStore,
  createSlice,
  isFulfilled,
  isRejectedWithValue,
  type Middleware,
  type PayloadAction,
} from "@reduxjs/toolkit";
import { useDispatch, useSelector } from "react-redux";
import { api } from "./api";
import type { ConnectionStatus } from "./connection/read-live-stream";

export type ThemeChoice = "light" | "dark" | "system";

interface View {
  theme: ThemeChoice;
  palette: boolean;
  keys: boolean;
  /** The server asks for its token. */
  signIn: boolean;
  /** The script that was open last; its sites are drawn in the survey. */
  script: string | undefined;
  /** Whether the server answers. */
  connection: ConnectionStatus;
}

const kept = localStorage.getItem("oxtrum.theme");
const initialState: View = {
  theme: kept === "dark" || kept === "light" ? kept : "system",
  palette: false,
  keys: false,
  signIn: false,
  script: undefined,
  connection: "online",
};

const view = createSlice({
  name: "view",
  initialState,
  reducers: {
    setTheme: (s, a: PayloadAction<ThemeChoice>) => void (s.theme = a.payload),
    setPalette: (s, a: PayloadAction<boolean>) => void (s.palette = a.payload),
    setScript: (s, a: PayloadAction<string>) => void (s.script = a.payload),
    setSignIn: (s, a: PayloadAction<boolean>) => void (s.signIn = a.payload),
    setConnection: (s, a: PayloadAction<ConnectionStatus>) => void (s.connection = a.payload),
    setKeys: (s, a: PayloadAction<boolean>) => void (s.keys = a.payload),
  },
});

export const { setTheme, setPalette, setKeys, setScript, setSignIn, setConnection } = view.actions;

/** An answer that asks for the token brings up the page that takes it. */
const askForToken: Middleware = (store) => (next) => (action) => {
  if (
    isRejectedWithValue(action) &&
    (action.payload as { status?: unknown } | undefined)?.status === 401 &&
    (action.meta as { arg?: { endpointName?: string } }).arg?.endpointName !== "signIn"
  )
    store.dispatch(view.actions.setSignIn(true));
  return next(action);
};

/** A request that reaches nobody says so before the live stream notices; the stream says when the server is back. */
const noticeBreaks: Middleware = (store) => (next) => (action) => {
  if (isRejectedWithValue(action) && (action.payload as { status?: unknown } | undefined)?.status === "FETCH_ERROR")
    store.dispatch(view.actions.setConnection("offline"));
  // An answer means that it is there again.
  else if (isFulfilled(action) && (store.getState() as { view: View }).view.connection === "offline")
    store.dispatch(view.actions.setConnection("online"));
  return next(action);
};

export const store = configureStore({
  reducer: { view: view.reducer, [api.reducerPath]: api.reducer },
  middleware: (d) =>
    d({ serializableCheck: false, immutableCheck: false }).concat(api.middleware, askForToken, noticeBreaks),
});

type State = ReturnType<typeof store.getState>;
export const useAppSelector = useSelector.withTypes<State>();
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
