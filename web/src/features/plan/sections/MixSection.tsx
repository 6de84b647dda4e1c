import { useQuery } from "@tanstack/react-query";
import { api, ask, keys, type Schemas } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { Amount, Choice, Text, Toggle } from "@/shared/form/fields";
import { More, Row } from "@/shared/form/layout";
import { Num } from "@/shared/ui/Num";
import { word } from "@/shared/words";
import { DoseCurve } from "./DoseCurve";
import { FromKit } from "./FromKit";
import { Section } from "./Section";

/** The amount in every other way, how it compares, and what one more buys. */
function AmountSaid({ amount }: { amount: Schemas["AmountOut"] }) {
  return (
    <div className="text-sm" data-amount>
      {amount.dry && <p>{amount.dry}</p>}
      <ul className="flex flex-wrap gap-x-4">
        {amount.ways.map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ul>
      <p className="text-ink-2">
        {amount.usual} {amount.more}
      </p>
    </div>
  );
}

export function MixSection() {
  const { doc, put, read } = usePlan();
  const settings = useQuery({ queryKey: keys.settings, queryFn: () => ask(api.GET("/api/shop")) });
  const f = read?.answer?.figures;
  const reuse = doc.mix?.source === "reuse";
  const acid = doc.mix?.product === "vinegar_salt";
  const salt = doc.mix?.product === "table_salt";
  return (
    <Section id="mix" title="Mix" lead="Read the box: it should say sodium carbonate.">
      <FromKit of="chemical" />
      <Choice at="/mix/product" />
      <div className="max-w-xl">
        <Amount
          at="/mix/concentration_kg_m3"
          {...((acid || salt) && { label: word("mix.salty.much"), hint: word("mix.salty.usual") })}
        />
      </div>
      {acid && (
        <div className="max-w-xl">
          <Amount at="/mix/vinegar_share" />
        </div>
      )}
      <Row>
        <Amount at="/mix/temperature_c" />
        {acid && <Amount at="/mix/vinegar_strength" />}
      </Row>
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
        <Toggle at="/mix/warming" />
        {f?.["bath.temperature"] && (
          <p className="text-sm">
            Mean over the run: <Num f={f["bath.temperature"]} className="text-xl" />
          </p>
        )}
      </div>
      {f?.["mix.product"] && f["mix.spoons"] && (
        <p>
          {word("line.name.put_in")} <Num f={f["mix.product"]} className="text-xl" />, which is{" "}
          <Num
            f={f["mix.spoons"]}
            className="text-xl"
            text={`${f["mix.spoons"].text} level tablespoons`}
          />
          {f["mix.spoons"].low_text &&
            ` (${f["mix.spoons"].low_text} to ${f["mix.spoons"].high_text})`}
          {f["mix.scoops"] && (
            <>
              , or{" "}
              <Num
                f={f["mix.scoops"]}
                className="text-xl"
                text={`${f["mix.scoops"].text} of ${doc.mix?.scoop_name || "my scoop"}`}
              />
            </>
          )}
          {f["mix.vinegar"] && (
            <>
              , and <Num f={f["mix.vinegar"]} className="text-xl" /> of vinegar in place of as much
              water
            </>
          )}
          . {acid ? "Salt" : "Soda"} first, water on top: it mixes itself.
        </p>
      )}
      {read?.answer?.amount && <AmountSaid amount={read.answer.amount} />}
      {f?.["mix.conductivity"] && f["mix.ph"] && f["mix.dissolves"] && (
        <p className="text-sm">
          It conducts <Num f={f["mix.conductivity"]} className="text-lg" /> and stands at pH{" "}
          <Num f={f["mix.ph"]} className="text-lg" />; this water dissolves up to{" "}
          <Num f={f["mix.dissolves"]} className="text-lg" />.
        </p>
      )}
      <DoseCurve />
      {doc.mix?.product === "soda_baked" && (
        <Row>
          <Amount at="/mix/baked_before_kg" />
          <Amount at="/mix/baked_after_kg" />
        </Row>
      )}
      <FromKit of="batch" />
      <More title="My own scoop, spoon set, a mix kept from before">
        {settings.data?.scoops && settings.data.scoops.length > 0 && (
          <div className="flex flex-wrap gap-2">
            {settings.data.scoops.map((s) => (
              <button
                key={s.name}
                type="button"
                className="btn btn-small"
                onClick={() =>
                  put("/mix", { ...doc.mix, scoop_name: s.name, scoop_kg: s.level_kg })
                }
              >
                Use {s.name}
              </button>
            ))}
          </div>
        )}
        <Row>
          <Text at="/mix/scoop_name" />
          <Amount at="/mix/scoop_kg" />
        </Row>
        <Choice at="/mix/spoon" />
        <Choice at="/mix/source" />
        {reuse && (
          <>
            <Amount at="/mix/kept_kg" />
            <Row>
              <Amount at="/mix/kept_bicarbonate_kg" />
              <Amount at="/mix/strip_ph" />
              <Amount at="/mix/kept_salt_kg" />
            </Row>
          </>
        )}
      </More>
    </Section>
  );
}
