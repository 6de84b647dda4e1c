import { useQuery } from "@tanstack/react-query";
import { api, ask, keys } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { Amount, Choice, Text, Toggle } from "@/shared/form/fields";
import { More, Row } from "@/shared/form/layout";
import { PRODUCTS } from "@/shared/form/products";
import { Num } from "@/shared/ui/Num";
import { DoseCurve } from "../DoseCurve";
import { FromKit } from "../FromKit";
import { Section } from "./Section";

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
      <Choice
        at="/mix/product"
        label="Which soda is in the box?"
        options={[
          ["unknown", "Not sure"],
          ...PRODUCTS,
          ["vinegar_salt", "Salt and vinegar (advanced)"],
          ["lye", "Lye (sodium hydroxide)"],
        ]}
      />
      <Row>
        <Amount
          at="/mix/dose_kg_m3"
          label={acid || salt ? "Dose of salt" : "Dose, as dry soda"}
          hint={acid ? "4 to 8 g/L is usual" : "2 to 15 g/L is usual"}
        />
        <Amount at="/mix/temperature_c" label="Water temperature" />
        {acid && <Amount at="/mix/vinegar_share" label="Household vinegar, by volume" />}
      </Row>
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
        <Toggle
          at="/mix/warming"
          label="The bath warms as it runs"
          hint="Warmer liquid conducts better, about 2 % a degree."
        />
        {f?.["bath.temperature"] && (
          <p className="text-sm">
            Mean over the run: <Num f={f["bath.temperature"]} className="text-xl" />
          </p>
        )}
      </div>
      {f?.["mix.product"] && f["mix.spoons"] && (
        <p>
          Put in <Num f={f["mix.product"]} className="text-xl" />, which is{" "}
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
              , and <Num f={f["mix.vinegar"]} className="text-xl" /> of vinegar
            </>
          )}
          . {acid ? "Salt" : "Soda"} first, water on top: it mixes itself.
        </p>
      )}
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
          <Amount at="/mix/baked_before_kg" label="Before the oven" placeholder="weigh it" />
          <Amount
            at="/mix/baked_after_kg"
            label="After the oven"
            placeholder="weigh it"
            hint="63 % is all of it"
          />
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
          <Text at="/mix/scoop_name" label="My scoop is" placeholder="Tea caddy lid" />
          <Amount at="/mix/scoop_kg" label="One level scoop weighs" placeholder="weigh it once" />
        </Row>
        <Choice
          at="/mix/spoon"
          label="Spoon set"
          options={[
            ["metric", "Metric (15 mL)"],
            ["us", "US (14.8 mL)"],
            ["imperial", "Imperial (17.8 mL)"],
          ]}
        />
        <Choice
          at="/mix/source"
          label="The liquid is"
          options={[
            ["fresh", "Mixed fresh"],
            ["reuse", "Kept from an earlier bath"],
          ]}
        />
        {reuse && (
          <>
            <Amount
              at="/mix/kept_kg"
              label="Soda already in it, as dry soda"
              hint="Water goes, soda stays: top up with water only."
            />
            <Row>
              <Amount at="/mix/kept_bicarbonate_kg" label="and baking soda left in it" />
              <Amount at="/mix/strip_ph" label="pH by a strip" placeholder="not read" />
              <Amount at="/mix/kept_chloride_kg" label="Salt that got into it" />
            </Row>
          </>
        )}
      </More>
    </Section>
  );
}
