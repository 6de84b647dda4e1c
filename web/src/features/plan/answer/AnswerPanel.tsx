import { memo, type ReactNode } from "react";
import type { AnswerOut, FigureOut, OutlookOut } from "@/shared/api/client";
import { clockTime } from "@/shared/time";
import { DayStrip } from "@/shared/ui/DayStrip";
import { Num, windowText } from "@/shared/ui/Num";
import { niceTop, Scale } from "@/shared/ui/Scale";
import { Sides } from "@/shared/ui/Sides";
import { useNow } from "@/shared/useNow";
import { word } from "@/shared/words";
import { Buys } from "./Buys";
import { FieldMap } from "./FieldMap";
import { Meter } from "./Meter";
import type { Field } from "./useField";
import { Volts } from "./Volts";

/** What to expect: the three answers, the scales they stand on, and every figure behind them. */
export const AnswerPanel = memo(function AnswerPanel({
  answer,
  stale,
  field,
}: {
  answer: AnswerOut;
  stale: boolean;
  field: Field;
}) {
  const f = answer.figures;
  const get = (key: string) => f[key] as FigureOut;
  const gives = get("amps.gives");
  const density = get("density.mean");
  const clean = f["time.clean"];
  // in the measure of the one line, which says it first
  const putIn = answer.line.find((p) => p.part === "put_in")?.text ?? "";
  return (
    <div className={`space-y-3 ${stale ? "opacity-70" : ""}`} aria-busy={stale}>
      <Headline
        label={word("line.name.put_in")}
        main={<Num f={get("mix.product")} className="text-3xl" />}
      >
        {putIn.replace(/ \(.*?\)/, "").replace(`${get("mix.product").text} `, "")}
        {f["mix.vinegar"] && (
          <>
            , <Num f={f["mix.vinegar"]} className="text-lg" /> of it vinegar
          </>
        )}
      </Headline>
      {clean ? (
        <Hours clean={clean} outlook={answer.outlook} apart={answer.apart} />
      ) : (
        <p className="border-t border-line pt-2">No current, so no time.</p>
      )}
      {answer.outlook && <Outlook outlook={answer.outlook} />}
      {answer.outlook && <Buys buys={answer.outlook.buys} />}
      <Headline
        label="Amps"
        main={<Num f={gives} className="text-3xl" />}
        scale={
          <Scale
            label="Amps"
            unit="A"
            top={niceTop(Math.max(answer.rated_a * 1.15, gives.high ?? 0, gives.number))}
            expected={gives.number}
            window={gives.low !== null && gives.high !== null ? [gives.low, gives.high] : undefined}
            limit={answer.rated_a}
          />
        }
      >
        likely {windowText(gives)}
      </Headline>
      <Meter says={answer.meter} />
      {answer.volts && <Volts volts={answer.volts} />}
      <Headline
        label="On the piece"
        main={<Num f={density} className="text-3xl" />}
        scale={
          <Scale
            label={word("map.density")}
            unit="A/dm²"
            top={niceTop(Math.max(answer.band.high * 1.25, get("density.p95").number * 1.05))}
            band={[answer.band.low, answer.band.high]}
            bandName={`band, ${answer.band.name}`}
            expected={density.number}
            window={[get("density.p5").number, get("density.p95").number]}
          />
        }
      >
        <Num f={get("density.p5")} className="text-lg" /> to{" "}
        <Num f={get("density.p95")} className="text-lg" /> over the surface;{" "}
        <Num f={get("density.below")} className="text-lg" /> of it under the band
      </Headline>
      <FieldMap field={field} />
      <Others answer={answer} />
    </div>
  );
});

/** One answer: the number large, what bounds it beside it, its scale under it. */
function Headline({
  label,
  main,
  scale,
  children,
}: {
  label: string;
  main: ReactNode;
  scale?: ReactNode;
  children: ReactNode;
}) {
  return (
    <section className="border-t border-line pt-1.5">
      <h3 className="text-sm font-medium text-ink-2">{label}</h3>
      <div className="flex items-baseline gap-3">
        <div className="shrink-0">{main}</div>
        <p className="text-sm text-ink-2">{children}</p>
      </div>
      {scale && <div className="mt-1">{scale}</div>}
    </section>
  );
}

function Hours({
  clean,
  outlook,
  apart,
}: {
  clean: FigureOut;
  outlook: OutlookOut | null;
  apart: string;
}) {
  const now = useNow(60_000);
  const after = (seconds: number) => new Date(now.getTime() + seconds * 1000);
  const mid = clean.value_si;
  const [low, high] = [clean.low_si ?? mid, clean.high_si ?? mid];
  const looks = [
    { kind: "second_look", at: after(2100).toISOString(), title: "Look again" },
    { kind: "lift", at: after(low).toISOString(), title: "Lift and brush a patch" },
  ].map((a) => ({ ...a, why: "", by: null, danger: false, piece: "" }));
  return (
    <Headline
      label="Clean after, under power"
      main={
        <Num
          f={clean}
          className="text-3xl"
          text={`${clean.low_text} to ${clean.high_text} ${clean.unit}`}
        />
      }
      scale={
        <DayStrip
          now={now}
          actions={looks}
          window={[after(low), after(mid), after(high)]}
          label="If switched on now"
        />
      }
    >
      {outlook && outlook.sides.length > 1 ? (
        <>
          the outside that sees the scrap, {outlook.sides[0]?.percent} % of it. Switched on now:
          lift and brush first at {clockTime(after(low), now)}
        </>
      ) : (
        <>
          switched on now: lift and brush first at {clockTime(after(low), now)}; nine in ten are
          clean by {clockTime(after(high), now)}
        </>
      )}
      {apart && (
        <strong className="block font-medium text-ink" data-apart>
          {apart}
        </strong>
      )}
    </Headline>
  );
}

/** The slow places, and what makes the hours so wide. */
function Outlook({ outlook }: { outlook: OutlookOut }) {
  const most = outlook.unsure[0];
  return (
    <div>
      <Sides sides={outlook.sides} />
      {most && <p className="mt-1 text-sm text-ink-2">So wide mostly for {most.name}.</p>}
    </div>
  );
}

/** Every figure that has no place of its own on the page, in the order of the work. */
const OTHERS = [
  "amps.draws",
  "piece.area",
  "piece.wetted_area",
  "piece.mass",
  "tank.level",
  "mix.conductivity",
  "bath.resistance",
  "power.load",
  "bath.volts",
  "power.drop",
  "dose.need",
  "gas.hydrogen",
  "gas.oxygen",
  "air.flow",
  "air.room_time",
  "air.opening",
  "water.split",
  "water.evaporates",
  "water.day",
  "water.covers",
  "scrap.iron",
  "scrap.area",
  "scrap.life",
  "scrap.scrape",
  "sludge.volume",
  "bath.heat",
  "bath.temperature",
  "bath.hottest",
  "bath.settles",
  "gas.chlorine",
  "gas.surface",
  "mix.ph",
  "tank.mass",
  "hang.carries",
  "power.lead_heat",
  "power.fuse",
  "battery.gives",
  "battery.lasts",
  "time.overrun",
  "power.energy",
  "power.cost",
] as const;

function Others({ answer }: { answer: AnswerOut }) {
  return (
    <details className="border-t border-line pt-2">
      <summary className="cursor-pointer font-semibold">Every other figure</summary>
      <dl className="mt-2 grid grid-cols-[1fr_auto] gap-x-4 gap-y-1 text-sm">
        {OTHERS.map((key) => {
          const f = answer.figures[key];
          return f ? (
            <div key={key} className="contents">
              <dt>{f.name}</dt>
              <dd className="text-right">
                <Num f={f} className="text-lg" />
              </dd>
            </div>
          ) : null;
        })}
      </dl>
      <p className="mt-2 text-xs text-ink-2">
        Amps by {answer.model}: within about {answer.error_percent.toPrecision(1)} % before films,
        mix and contacts; press a number for its formula and source.
      </p>
    </details>
  );
}
