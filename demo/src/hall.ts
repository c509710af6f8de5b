import { rungeKutta } from "./random.js";

/**
 * The hall as eight well-mixed zones (four along the aisle, two layers) between the fan coils in the west and the
 * dock door in the east: air temperature and water content of each, the racks' goods, and the coils.
 */
export interface HallCase {
  readonly id: string;
  /** Fan speed, %. */
  readonly fan: number;
  /** How long the door stays open, s. */
  readonly doorOpen: number;
  readonly curtain: "none" | "strip";
}

/** One line of the hall's monitors. */
export interface HallState {
  readonly time: number;
  readonly tMean: number;
  readonly tMax: number;
  readonly humidity: number;
  readonly coilDuty: number;
  readonly doorFlow: number;
  readonly frost: number;
  readonly pDoor: number;
  readonly fanPower: number;
  readonly zones: Float64Array;
  readonly coilFlow: readonly number[];
  readonly coilOut: readonly number[];
}

const ZONES = 8;
const VOLUME = (24 * 12 * 6) / ZONES; // m³
const RHO = 1.27; // kg/m³
const CP = 1006; // J/(kg K)
const OUTSIDE = 293.15; // K
const OUTSIDE_W = 0.0095; // kg/kg
const SET = 274.95; // K
const COIL = 268.15; // K
const DOOR_AT = 30; // s, when the door opens
const GOODS = 5200; // J/K for each zone, seen by the air within minutes
const GOODS_UA = 190; // W/K

/** Saturation water content, kg/kg, after Magnus over ice and water. */
const saturated = (T: number): number => {
  const c = T - 273.15;
  const e = 611.2 * Math.exp(((c < 0 ? 22.46 : 17.62) * c) / ((c < 0 ? 272.62 : 243.12) + c));
  return (0.622 * e) / (101325 - e);
};

/** Exchange through the open door, m³/s: W/3 · sqrt(g' H³), with the curtain's share let through. */
function exchange(c: HallCase, t: number, cold: number): number {
  if (t < DOOR_AT || t > DOOR_AT + c.doorOpen) return 0.02;
  const reduced = (9.81 * Math.max(0, OUTSIDE - cold)) / OUTSIDE;
  const ramp = Math.min(1, (t - DOOR_AT) / 4, (DOOR_AT + c.doorOpen - t) / 4 + 0.02);
  return 0.02 + ramp * (c.curtain === "strip" ? 0.34 : 1) * 0.6 * (3.8 / 3) * Math.sqrt(reduced * 3.8 ** 3);
}

/** Integrates a case second by second up to `end`; calls back each second. */
export function solveHall(c: HallCase, end: number, onSecond: (s: HallState) => void): void {
  // 0..7 air, 8..15 goods, 16..23 water, 24 coil surface, 25 frost.
  const y = new Float64Array(26);
  for (let z = 0; z < ZONES; z++) {
    y[z] = SET + (z >= 4 ? 0.5 : -0.1) + 0.05 * (z % 4);
    y[8 + z] = SET;
    y[16 + z] = 0.0034;
  }
  y[24] = COIL;
  const fan = c.fan / 100;
  const flow = 11 * fan; // m³/s through the coils
  const mix = 1.6 + 2.2 * fan; // m³/s between layers
  let duty = 0;
  let door = 0;
  const rates = (t: number, s: Float64Array, d: Float64Array): void => {
    d.fill(0);
    door = exchange(c, t, s[3]!);
    const intake = (s[4]! + s[5]!) / 2;
    const air = (s[0]! + s[1]! + s[2]! + s[3]! + s[4]! + s[5]! + s[6]! + s[7]!) / ZONES;
    // The coolant valve opens with the distance to the set point.
    const valve = Math.min(1, Math.max(0.02, 0.16 + 0.45 * (air - SET)));
    const ua = valve * 5200 * fan ** 0.62 * (1 - (0.04 * Math.min(4, s[25]!)) / 4);
    duty = Math.max(0, ua * (intake - s[24]!));
    const out = intake - duty / (RHO * CP * flow);
    const wIn = (s[20]! + s[21]!) / 2;
    const wet = Math.min(1, Math.max(0, wIn - saturated(s[24]!)) * 55);
    const wOut = wIn - wet * Math.max(0, wIn - saturated(s[24]!)) * 0.42;
    const move = (to: number, from: number, q: number): void => {
      d[to]! += (q * (s[from]! - s[to]!)) / VOLUME;
      d[16 + to]! += (q * (s[16 + from]! - s[16 + to]!)) / VOLUME;
    };
    // The jet runs along the floor layer from the coils to the door and comes back under the roof.
    d[0]! += (flow * (out - s[0]!)) / VOLUME;
    d[16]! += (flow * (wOut - s[16]!)) / VOLUME;
    for (let k = 1; k < 4; k++) move(k, k - 1, flow);
    move(7, 3, flow);
    for (let k = 6; k >= 4; k--) move(k, k + 1, flow);
    for (let k = 0; k < 4; k++) {
      const stable = s[4 + k]! > s[k]! ? 1 / (1 + 0.25 * (s[4 + k]! - s[k]!)) : 1.6;
      move(k, 4 + k, mix * stable);
      move(4 + k, k, mix * stable);
    }
    // Warm air comes in high, cold air leaves low.
    d[7]! += (door * (OUTSIDE - s[7]!)) / VOLUME;
    d[23]! += (door * (OUTSIDE_W - s[23]!)) / VOLUME;
    move(3, 7, 0.45 * door);
    for (let z = 0; z < ZONES; z++) {
      const heat = GOODS_UA * (s[8 + z]! - s[z]!);
      d[z]! += heat / (RHO * CP * VOLUME);
      d[8 + z]! -= heat / (GOODS * 60);
      d[z]! += (32 + 6 * (z % 4)) / (RHO * CP * VOLUME);
    }
    d[24] = (COIL + 0.0004 * duty * 0.12 - s[24]!) / 45;
    d[25] = RHO * flow * Math.max(0, wIn - wOut) * (s[24]! < 273.15 ? 1 : 0);
  };
  for (let t = 0; t <= end; t++) {
    rates(t, y, new Float64Array(26));
    const air = y.subarray(0, ZONES);
    const mean = air.reduce((a, b) => a + b, 0) / ZONES;
    const water = y.subarray(16, 24).reduce((a, b) => a + b, 0) / ZONES;
    const intake = (y[4]! + y[5]!) / 2;
    const shares = [0.27, 0.24, 0.26, 0.23];
    onSecond({
      time: t,
      tMean: mean,
      tMax: Math.max(...air),
      humidity: 100 * Math.min(1, water / saturated(mean)),
      coilDuty: duty,
      doorFlow: door,
      frost: y[25]!,
      pDoor: ((OUTSIDE - y[3]!) / OUTSIDE) * 1.27 * 9.81 * 2.8 * 0.5 - 0.9 * door,
      fanPower: 620 + 3650 * fan ** 3,
      zones: air,
      coilFlow: shares.map((s) => s * flow),
      coilOut: shares.map((s, k) => intake - (duty * (0.94 + 0.04 * k)) / (RHO * CP * flow) - (s - 0.25) * 2),
    });
    if (t < end) for (let k = 0; k < 2; k++) rungeKutta(rates, t + k / 2, y, 0.5);
  }
}

/** The runs of the study: a full grid of 18, and four more in which something is odd. */
export function hallCases(): HallCase[] {
  const cases: HallCase[] = [];
  const add = (fan: number, doorOpen: number, curtain: "none" | "strip"): void =>
    void cases.push({
      id: `${String(fan).padStart(3, "0")}_${String(doorOpen).padStart(3, "0")}_${curtain}`,
      fan,
      doorOpen,
      curtain,
    });
  for (const curtain of ["none", "strip"] as const)
    for (const fan of [50, 75, 100]) for (const open of [40, 80, 160]) add(fan, open, curtain);
  add(60, 120, "none");
  add(60, 120, "strip");
  add(90, 120, "none");
  add(90, 120, "strip");
  return cases;
}
