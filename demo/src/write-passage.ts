import fs from "node:fs";
import path from "node:path";
import { cellsOf, gapAt, mixtures, passageCases, solvePassage, type Passage, type PassageCase } from "./passage.js";
import { vtkFile } from "./write-vtk.js";

/** The whole passage as structured points in the plane of x and y. */
function fieldFile(c: PassageCase, r: Passage): Buffer {
  const [nx, ny] = cellsOf(c);
  const n = (nx + 1) * (ny + 1);
  const [points, U, T, p] = [
    new Float32Array(3 * n),
    new Float32Array(3 * n),
    new Float32Array(n),
    new Float32Array(n),
  ];
  for (let j = 0; j <= ny; j++)
    for (let i = 0; i <= nx; i++) {
      const at = i + (nx + 1) * j;
      const H = gapAt(r.x[i]!);
      const slope = (gapAt(r.x[i]! + 1e-6) - gapAt(r.x[i]! - 1e-6)) / 2e-6;
      const u = r.meanSpeed[i]! * r.shape[j]!;
      points.set([r.x[i]!, r.eta[j]! * H, 0], 3 * at);
      // Lines of equal share of the gap are streamlines: the flow through the passage is the same everywhere.
      U.set([u, u * r.eta[j]! * slope, 0], 3 * at);
      T[at] = r.T[i]![j]!;
      p[at] = r.p[i]!;
    }
  const extent = `0 ${nx} 0 ${ny} 0 0`;
  return vtkFile(
    "StructuredGrid",
    (array) =>
      "<Piece " +
      `Extent="${extent}">\n<PointData>\n${array({ name: "temperature", values: T })}` +
      `${array({ name: "velocity", components: 3, values: U })}${array({ name: "pressure", values: p })}</PointData>\n` +
      `<Points>\n${array({ name: "Points", components: 3, values: points })}</Points>\n</Piece>\n`,
    ` WholeExtent="${extent}"`,
  );
}

/** A plate as a line with what acts on it. */
function plateFile(r: Passage, upper: boolean): Buffer {
  const n = r.x.length;
  const points = Float32Array.from({ length: 3 * n }, (_, i) =>
    i % 3 === 0 ? r.x[(i / 3) | 0]! : i % 3 === 1 && upper ? gapAt(r.x[(i / 3) | 0]!) : 0,
  );
  const nodes = Int32Array.from({ length: 2 * (n - 1) }, (_, i) => ((i + 1) / 2) | 0);
  const ends = Int32Array.from({ length: n - 1 }, (_, i) => 2 * (i + 1));
  return vtkFile(
    "PolyData",
    (array) =>
      `<Piece NumberOfPoints="${n}" NumberOfVerts="0" NumberOfLines="${n - 1}" NumberOfStrips="0" ` +
      `NumberOfPolys="0">\n<PointData>\n${array({ name: "wall_shear", values: Float32Array.from(r.wallShear) })}` +
      `${array({ name: "heat_flux", values: Float32Array.from(r.heatFlux) })}</PointData>\n` +
      `<Points>\n${array({ name: "Points", components: 3, values: points })}</Points>\n` +
      `<Lines>\n${array({ name: "connectivity", values: nodes })}` +
      `${array({ name: "offsets", values: ends })}</Lines>\n</Piece>\n`,
  );
}

const csv = (head: string, rows: readonly (readonly number[])[]): string =>
  `${head}\n${rows.map((r) => r.map((v) => Number(v.toPrecision(8))).join(",")).join("\n")}\n`;

/** Writes the study of the glycol cooler's passage. */
export function writePassageStudy(folder: string): void {
  for (const c of passageCases()) {
    const run = path.join(folder, c.id);
    for (const part of ["fields", "surfaces", "profiles"]) fs.mkdirSync(path.join(run, part), { recursive: true });
    const r = solvePassage(c);
    const m = mixtures[c.glycol];
    const of = (value: number, unit: string): { value: number; unit: string } => ({
      value: Number(value.toPrecision(6)),
      unit,
    });
    fs.writeFileSync(
      path.join(run, "case.json"),
      JSON.stringify(
        {
          regime: c.regime,
          Re: of(c.Re, "1"),
          glycol: of(c.glycol, "%"),
          mesh: c.mesh,
          wall: c.wall,
          Pr: of((m.nu * m.rho * m.cp) / m.k, "1"),
          nu: of(m.nu, "m^2/s"),
          rho: of(m.rho, "kg/m^3"),
          cp: of(m.cp, "J/(kg K)"),
          k: of(m.k, "W/(m K)"),
        },
        null,
        2,
      ) + "\n",
    );
    fs.writeFileSync(path.join(run, "fields/passage.vts"), fieldFile(c, r));
    fs.writeFileSync(path.join(run, "surfaces/lower.vtp"), plateFile(r, false));
    fs.writeFileSync(path.join(run, "surfaces/upper.vtp"), plateFile(r, true));
    const plate = r.x.map((x, i) => [x, r.wallShear[i]!, r.heatFlux[i]!, r.bulk[i]!]).slice(1);
    // Some solvers list the plate from its far end.
    fs.writeFileSync(
      path.join(run, "plate.csv"),
      csv("x [m],wall_shear [Pa],heat_flux [W/m^2],T_bulk [K]", c.glycol === 40 ? plate.reverse() : plate),
    );
    for (const at of [0.15, 0.45]) {
      const i = r.x.findIndex((x) => x >= at - 1e-9);
      fs.writeFileSync(
        path.join(run, `profiles/x${at * 1000}mm.csv`),
        csv(
          "y [m],u [m/s],T [K]",
          Array.from(r.eta, (e, j) => [e * gapAt(r.x[i]!), r.meanSpeed[i]! * r.shape[j]!, r.T[i]![j]!]),
        ),
      );
    }
  }
  const definition = {
    oxtrum: 1,
    title: "is the glycol cooler's passage solved well?",
    runs: { case: "case.json" },
    units: {
      fields: { temperature: "K", velocity: "m/s", pressure: "Pa", heat_flux: "W/m^2", wall_shear: "Pa", x: "m" },
    },
  };
  fs.writeFileSync(path.join(folder, "oxtrum.study.json"), JSON.stringify(definition, null, 2) + "\n");
}
