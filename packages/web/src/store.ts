import { configureStore, createSlice, type PayloadAction } from "@reduxjs/toolkit";
import { useDispatch, useSelector } from "react-redux";
import { api } from "./api/api";

export type ThemeChoice = "light" | "dark" | "system";

interface View {
  theme: ThemeChoice;
  palette: boolean;
  keys: boolean;
  /** The script that was open last; its sites are drawn in the survey. */
  script: string | undefined;
}

const kept = localStorage.getItem("oxtrum.theme");
const initialState: View = {
  theme: kept === "dark" || kept === "light" ? kept : "system",
  palette: false,
  keys: false,
  script: undefined,
};

const view = createSlice({
  name: "view",
  initialState,
  reducers: {
    setTheme: (s, a: PayloadAction<ThemeChoice>) => void (s.theme = a.payload),
    setPalette: (s, a: PayloadAction<boolean>) => void (s.palette = a.payload),
    setScript: (s, a: PayloadAction<string>) => void (s.script = a.payload),
    setKeys: (s, a: PayloadAction<boolean>) => void (s.keys = a.payload),
  },
});

export const { setTheme, setPalette, setKeys, setScript } = view.actions;

export const store = configureStore({
  reducer: { view: view.reducer, [api.reducerPath]: api.reducer },
  middleware: (d) => d({ serializableCheck: false, immutableCheck: false }).concat(api.middleware),
});

type State = ReturnType<typeof store.getState>;
export const useAppSelector = useSelector.withTypes<State>();
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
