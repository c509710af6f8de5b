import { describe, expect, it } from "@jest/globals";
import { settingsSchema, type ServerSettings } from "@oxtrum/contract";
import { chartFields, formOf, serverFields, settingsFormSchema, type SettingsForm } from "./settings-form";

const usual = settingsSchema.parse({});
const form = (more: Partial<SettingsForm> = {}): SettingsForm => ({ ...formOf(usual), ...more });
/** What a form says of a field. */
const said = (more: Partial<SettingsForm>): string[] => {
  const r = settingsFormSchema.safeParse(form(more));
  return r.success ? [] : r.error.issues.map((i) => `${i.path.join(".")}: ${i.message}`);
};

describe("the form of settings", () => {
  it("gives the settings that it was filled with", () => {
    const all: ServerSettings = {
      ...usual,
      workers: 3,
      memory: 2500,
      scriptSeconds: 45,
      cache: 900,
      style: {
        textSize: 13.5,
        lineWidth: 2,
        markerSize: 4,
        colors: ["#112233", "#AABBCC"],
        theme: "print",
        grid: "none",
        digits: { degC: 3, kW: 4 },
      },
    };
    for (const s of [usual, all]) expect(settingsFormSchema.parse(formOf(s))).toEqual(s);
  });

  it("leaves out of the style what is left empty", () => {
    expect(settingsFormSchema.parse(form()).style).toEqual({});
    expect(settingsFormSchema.parse(form({ lineWidth: "2.5" })).style).toEqual({ lineWidth: 2.5 });
  });

  it("takes as many threads as there are cores where none are said", () => {
    expect(settingsFormSchema.parse(form({ workers: "" })).workers).toBeNull();
    expect(settingsFormSchema.parse(form({ workers: "2" })).workers).toBe(2);
  });

  it("says at each field what it cannot be", () => {
    expect(said({ memory: "many" })).toEqual(["memory: a whole number"]);
    expect(said({ memory: "1.5" })).toEqual(["memory: a whole number"]);
    expect(said({ workers: "-1" })).toEqual(["workers: a whole number"]);
    expect(said({ memory: "", cache: "x" })).toEqual(["memory: a whole number", "cache: a whole number"]);
    expect(said({ colors: "red, blue" })[0]).toMatch(/^colors: As #RRGGBB/);
    expect(said({ digits: "degC" })[0]).toMatch(/^digits: Significant digits/);
    expect(said({ theme: "neon" })[0]).toMatch(/^theme: /);
    expect(said({ lineWidth: "thick" })[0]).toMatch(/^lineWidth: /);
  });

  it("has the server's own limits", () => {
    for (const name of ["workers", "memory", "scriptSeconds", "cache"] as const) {
      const beyond = settingsSchema.shape[name].safeParse(1e12);
      expect(beyond.success).toBe(false);
      expect(said({ [name]: "1000000000000" })).toEqual([`${name}: ${beyond.error!.issues[0]!.message}`]);
    }
  });

  it("reads lists with blanks and commas as people write them", () => {
    const { style } = settingsFormSchema.parse(form({ colors: " #112233 ,#445566, ", digits: "degC 3 ,  kW  4," }));
    expect(style).toEqual({ colors: ["#112233", "#445566"], digits: { degC: 3, kW: 4 } });
  });

  it("has a field for each setting, with words for it", () => {
    const names = [...serverFields, ...chartFields].map((f) => f.name);
    expect(names.sort()).toEqual(Object.keys(formOf(usual)).sort());
    for (const f of [...serverFields, ...chartFields]) expect([f.label, f.hint]).not.toContain("");
    expect(chartFields.filter((f) => f.options).map((f) => f.name)).toEqual(["theme", "grid"]);
  });
});
