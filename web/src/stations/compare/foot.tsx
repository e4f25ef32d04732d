import { type ReactNode, type RefObject, useState } from "react";
import { saveBlob, saveFile } from "../../api/client";
import type { AnyView } from "../../data/answers";
import { useProjectId, useRefresh } from "../../data/project";
import { Button, Menu, Popover } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { HelpDialog } from "../../shell/about";
import { Keep } from "./keep";
import { type Pictured, picturePng, pictureSvg } from "./picture";

interface Method {
  heading: string;
  words: string;
  source: string;
}

/** What can be done with an answer: keep it, take it along, see how it was counted. */
export function Foot({
  view,
  title,
  drawn = {},
  method,
  figure,
  pictured,
  request,
  children,
}: {
  view: AnyView;
  title: string;
  drawn?: Record<string, string>;
  method: readonly Method[];
  /** Where the drawing stands, if there is one. */
  figure?: RefObject<HTMLElement | null>;
  /** What stands beside the drawing in a picture. */
  pictured?: () => Promise<Pictured> | Pictured;
  /** Where its numbers come from, where that is not where those of all views do. */
  request?: { where: string; body: unknown };
  children?: ReactNode;
}) {
  const project = useProjectId();
  const { fail } = useToast();
  const refresh = useRefresh("versions");
  const [methods, setMethods] = useState(false);
  const asked = request ?? { where: `/api/v1/projects/${project}/answers/export`, body: view };
  const numbers = (form: "csv" | "xlsx" | "txt" | "json") =>
    void saveFile(`${asked.where}?form=${form}`, asked.body).then(refresh, fail);
  const picture = async (kind: "svg" | "png") => {
    const svg = figure?.current?.querySelector("svg[data-figure]");
    if (!(svg instanceof SVGSVGElement) || !pictured) return;
    const beside = await pictured();
    if (kind === "svg")
      saveBlob(new Blob([pictureSvg(svg, beside)], { type: "image/svg+xml" }), `${title}.svg`);
    else saveBlob(await picturePng(svg, beside), `${title}.png`);
    await refresh();
  };
  const drawing = pictured !== undefined;
  return (
    <div className="mt-3 flex flex-wrap gap-2 pb-4">
      <Keep view={view} title={title} drawn={drawn} />
      <Menu
        trigger={<Button>Export ▾</Button>}
        items={[
          { label: "Numbers as Excel", onSelect: () => numbers("xlsx") },
          { label: "Numbers as .csv", onSelect: () => numbers("csv") },
          { label: "How it was counted as .txt", onSelect: () => numbers("txt") },
          { label: "The request as .json, to be asked again", onSelect: () => numbers("json") },
          {
            label: "Picture as SVG",
            onSelect: () => void picture("svg").catch(fail),
            disabled: !drawing,
          },
          {
            label: "Picture as PNG",
            onSelect: () => void picture("png").catch(fail),
            disabled: !drawing,
          },
        ]}
      />
      <Popover width={480} trigger={<Button>How this was counted</Button>}>
        {method.map((part) => (
          <div key={part.heading} className="mb-2.5">
            <b>{part.heading}</b>
            <div>{part.words}</div>
            {part.source && <div className="text-ink2">{part.source}</div>}
          </div>
        ))}
        <Button look="ghost" onClick={() => setMethods(true)}>
          Methods, and how well they hold
        </Button>
      </Popover>
      {children}
      <HelpDialog topic="methods" open={methods} onClose={() => setMethods(false)} />
    </div>
  );
}
