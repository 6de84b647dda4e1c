import { options, word } from "@/shared/words";
import { Pictures, Words } from "./Asked";
import { Likely } from "./Likely";
import { Keep, Own, tankOf, without } from "./Own";
import { VesselIcon } from "./Pictures";
import type { Begun, First } from "./useFirst";

/** What it goes into; nothing is asked of a tube that holds the liquid itself. */
export function Vessel({
  first,
  say,
  told,
  behind,
}: {
  first: First;
  say: (more: Partial<First>) => void;
  told: Begun | undefined;
  behind: boolean;
}) {
  const own = first.side === "vessel" && first.kind === "tube";
  return (
    <section className="sheet space-y-4" aria-label={word("begin.title.vessel")}>
      {own ? (
        <>
          <h2 className="text-xl">{word("begin.title.vessel")}</h2>
          <p>{told?.heard.holds ?? word("choice.tank.kind.bore")}</p>
        </>
      ) : (
        <>
          <Own of="tank" first={first} say={say} />
          <Pictures
            label={word("begin.title.vessel")}
            at="vessel"
            value={first.tank ? "" : (first.vessel ?? "")}
            options={options("begin.vessel")}
            draw={(vessel) => <VesselIcon vessel={vessel} />}
            onPick={(vessel) => say({ vessel, ...without(first, "tank") })}
          />
          {!first.tank && (
            <Words name="holds" first={first} say={say} told={told} behind={behind} />
          )}
          {told?.read && !first.tank && first.holds && !told.faults.holds && (
            <Keep key={first.holds} thing={tankOf(told)} behind={behind} />
          )}
          {!first.tank && <Likely name="vessel_of" told={told?.likely} first={first} say={say} />}
        </>
      )}
    </section>
  );
}
