import { useState, type ReactElement } from "react";

/** A picture of a job's output as it was drawn by the server. */
export function PictureView({
  job,
  name,
  panels,
  frames,
}: {
  job: number;
  name: string;
  panels?: number;
  frames?: boolean;
}): ReactElement {
  const [gone, setGone] = useState(false);
  if (gone) return <p className="dim p-3">This picture is not kept any more; its files are.</p>;
  return (
    <figure className="flex h-full flex-col bg-white">
      <img
        className="min-h-0 flex-1 object-contain"
        alt={name}
        src={`/api/jobs/${job}/pictures/${encodeURIComponent(name)}`}
        onError={() => setGone(true)}
      />
      {frames && (
        <figcaption className="px-2 pb-1 text-xs text-[#5F6B6D]">
          The first of {panels} frames; all are in the files.
        </figcaption>
      )}
    </figure>
  );
}
