import { usePlan } from "@/shared/form/context";
import { Amount, Ask, Choice, Toggle } from "@/shared/form/fields";
import { More, Row } from "@/shared/form/layout";
import { clockTime } from "@/shared/time";
import { Num } from "@/shared/ui/Num";
import { useNow } from "@/shared/useNow";
import { FromKit } from "./FromKit";
import { Section } from "./Section";
import { Warmth } from "./Warmth";

export function AirSection() {
  const { doc, read } = usePlan();
  const f = read?.answer?.figures;
  const indoors = doc.place?.where !== "outdoors";
  const now = useNow(60_000);
  return (
    <Section
      id="air"
      title="Air"
      lead="Gas comes off as long as current flows; the bath warms and loses water."
    >
      <Choice at="/place/where" />
      <Row>
        {doc.place?.where === "closed_room" && <Amount at="/place/room_m3" />}
        {indoors && <Amount at="/place/opening_m2" />}
        <Amount at="/place/air_c" />
        <Amount at="/place/price_kwh" />
      </Row>
      {f?.["gas.hydrogen"] && f["air.flow"] && f["air.opening"] && (
        <p className="text-sm">
          <Num f={f["gas.hydrogen"]} className="text-xl" /> of hydrogen; the standard asks for{" "}
          <Num f={f["air.flow"]} className="text-xl" /> of fresh air at what the supply can give, an
          opening of <Num f={f["air.opening"]} className="text-lg" />.
          {f["gas.chlorine"] && f["gas.chlorine"].value_si > 0 && (
            <>
              {" "}
              Chlorine, at most <Num f={f["gas.chlorine"]} className="text-lg" />.
            </>
          )}
        </p>
      )}
      {f?.["bath.hottest"] && f["bath.settles"] && f["water.day"] && (
        <p className="text-sm">
          It gets to <Num f={f["bath.hottest"]} className="text-xl" /> and would settle at{" "}
          <Num f={f["bath.settles"]} className="text-lg" />; a day under power takes{" "}
          <Num f={f["water.day"]} className="text-xl" /> of water
          {f["water.covers"] && (
            <>
              , the piece stays covered for <Num f={f["water.covers"]} className="text-lg" />,
              switched on now until{" "}
              {clockTime(new Date(now.getTime() + 1000 * f["water.covers"].value_si), now)}
            </>
          )}
          .
        </p>
      )}
      {read?.answer?.warmth && <Warmth warmth={read.answer.warmth} />}
      <div className="grid gap-3 sm:grid-cols-3">
        <Ask at="/place/lid" />
        <Ask at="/place/flames" />
        <Ask at="/place/visitors" />
      </div>
      <More title="Humidity, height, a pump and filter">
        <Row>
          <Amount at="/place/humidity" />
          <Amount at="/place/altitude_m" />
        </Row>
        <FromKit of="pump" />
        <Toggle at="/place/filter_loop" />
        {doc.place?.filter_loop && <Amount at="/place/pump_m3" />}
        <Toggle at="/place/cooled" />
      </More>
    </Section>
  );
}
