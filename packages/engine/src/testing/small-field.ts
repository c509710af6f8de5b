import fs from "node:fs";
import path from "node:path";
import { runNames, smallStudy, type SmallStudy } from "./small-study.js";

/** Units of the small study's fields, which its files do not say. */
export function writeFieldDefinition(s: SmallStudy): void {
  fs.writeFileSync(
    path.join(s.folder, "oxtrum.study.json"),
    JSON.stringify({ oxtrum: 1, runs: { case: "case.json" }, units: { fields: { x: "m", time: "s", U: "m/s" } } }),
  );
}

/** The small study with its field in every run. */
export function smallFieldStudy(): SmallStudy {
  const s = smallStudy();
  for (const run of runNames) writeSmallField(s, run);
  writeFieldDefinition(s);
  return s;
}

/** One hexahedron [0, 2] × [0, 1] × [0, 1] at times 0, 10, 20: T = fan/100 · time + 2x + 3y + 5z, U = (x, 1, 0). */
export function writeSmallField(s: SmallStudy, run: string, cut = false): void {
  const fan = Number(run.slice(1, 4)) / 100;
  const folder = path.join(s.folder, "runs", run, "fields");
  fs.mkdirSync(path.join(folder, "../walls"), { recursive: true });
  fs.mkdirSync(folder, { recursive: true });
  const p = [0, 0, 0, 2, 0, 0, 2, 1, 0, 0, 1, 0, 0, 0, 1, 2, 0, 1, 2, 1, 1, 0, 1, 1];
  const at = (f: (x: number, y: number, z: number) => number | string): string =>
    Array.from({ length: 8 }, (_, i) => f(p[3 * i]!, p[3 * i + 1]!, p[3 * i + 2]!)).join(" ");
  for (const t of [0, 10, 20]) {
    const text = `<VTKFile type="UnstructuredGrid" version="0.1"><UnstructuredGrid><Piece NumberOfPoints="8" NumberOfCells="1">
<Points><DataArray type="Float64" NumberOfComponents="3" format="ascii">${p.join(" ")}</DataArray></Points>
<Cells><DataArray type="Int32" Name="connectivity" format="ascii">0 1 2 3 4 5 6 7</DataArray><DataArray type="Int32" Name="offsets" format="ascii">8</DataArray><DataArray type="UInt8" Name="types" format="ascii">12</DataArray></Cells>
<PointData><DataArray type="Float64" Name="T [K]" format="ascii">${at((x, y, z) => fan * t + 2 * x + 3 * y + 5 * z)}</DataArray><DataArray type="Float64" Name="U" NumberOfComponents="3" format="ascii">${at((x) => `${x} 1 0`)}</DataArray></PointData>
</Piece></UnstructuredGrid></VTKFile>`;
    fs.writeFileSync(path.join(folder, `f${t}.vtu`), cut && t === 10 ? text.slice(0, 500) : text);
  }
  fs.writeFileSync(
    path.join(folder, "f.pvd"),
    `<VTKFile type="Collection"><Collection>${[0, 10, 20].map((t) => `<DataSet timestep="${t}" file="f${t}.vtu"/>`).join("")}</Collection></VTKFile>`,
  );
  for (const [name, z] of [
    ["floor", 0],
    ["roof", 1],
  ] as const)
    fs.writeFileSync(
      path.join(folder, `../walls/${name}.stl`),
      `solid ${name}\n${[
        [0, 0, 2, 0, 2, 1],
        [0, 0, 2, 1, 0, 1],
      ]
        .map(
          (c) =>
            `facet normal 0 0 1\nouter loop\n${[0, 2, 4].map((k) => `vertex ${c[k]} ${c[k + 1]} ${z}`).join("\n")}\nendloop\nendfacet`,
        )
        .join("\n")}\nendsolid\n`,
    );
}

/**
 * A large raw file of one brick [0, 2] × [0, 1] × [0, 1] with T = `base` + 2x + 3y + 5z, of which most is padding that
 * nothing reads; `pad` is a byte of it.
 */
export function writeLargeField(s: SmallStudy, run: string, base: number, pad = 0): string {
  const p = [0, 0, 0, 2, 0, 0, 2, 1, 0, 0, 1, 0, 0, 0, 1, 2, 0, 1, 2, 1, 1, 0, 1, 1];
  const T = Array.from({ length: 8 }, (_, i) => base + 2 * p[3 * i]! + 3 * p[3 * i + 1]! + 5 * p[3 * i + 2]!);
  const parts: Buffer[] = [];
  let offset = 0;
  const array = (type: string, name: string, components: number, bytes: Uint8Array): string => {
    const head = Buffer.alloc(4);
    head.writeUInt32LE(bytes.length);
    parts.push(head, Buffer.from(bytes));
    const text = `<DataArray type="${type}" Name="${name}" NumberOfComponents="${components}" format="appended" offset="${offset}"/>`;
    offset += 4 + bytes.length;
    return text;
  };
  const floats = (v: readonly number[]): Uint8Array => new Uint8Array(Float64Array.from(v).buffer);
  const whole = (v: readonly number[]): Uint8Array => new Uint8Array(Int32Array.from(v).buffer);
  const body = `<Piece NumberOfPoints="8" NumberOfCells="1"><PointData>${array("Float64", "T [K]", 1, floats(T))}</PointData><Points>${array("Float64", "Points", 3, floats(p))}</Points><Cells>${array("Int32", "connectivity", 1, whole([0, 1, 2, 3, 4, 5, 6, 7]))}${array("Int32", "offsets", 1, whole([8]))}${array("UInt8", "types", 1, Uint8Array.of(12))}</Cells></Piece>`;
  const padding = Buffer.alloc(5 * 1024 * 1024, 1);
  padding[4_000_000] = pad;
  const folder = path.join(s.folder, "runs", run, "large");
  fs.mkdirSync(folder, { recursive: true });
  const file = path.join(folder, "big.vtu");
  fs.writeFileSync(
    file,
    Buffer.concat([
      Buffer.from(
        `<VTKFile type="UnstructuredGrid" version="1.0" byte_order="LittleEndian" header_type="UInt32"><UnstructuredGrid>${body}</UnstructuredGrid><AppendedData encoding="raw">_`,
      ),
      ...parts,
      padding,
      Buffer.from("</AppendedData></VTKFile>"),
    ]),
  );
  return file;
}
