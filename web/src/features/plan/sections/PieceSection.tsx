import { useState } from "react";
import type { Plan } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { Amount, Ask, Choice, Several, Text, Toggle } from "@/shared/form/fields";
import { More, Row } from "@/shared/form/layout";
import { typedWithout } from "@/shared/form/put";
import { saidAgain, saidWithout } from "@/shared/form/said";
import { ShapePicture } from "@/shared/shapes/ShapePicture";
import { SIZES } from "@/shared/shapes/sizes";
import { fieldWord } from "@/shared/words";
import { Faces } from "./Faces";
import { MeshFile } from "./MeshFile";
import { Section } from "./Section";

export function PieceSection() {
  const { doc, put } = usePlan();
  const [chosen, setChosen] = useState(0);
  const [bringing, setBringing] = useState(false);
  const pieces = doc.pieces ?? [];
  const k = Math.min(chosen, Math.max(pieces.length - 1, 0));
  const shape = pieces[k]?.shape?.kind ?? "plate";
  const p = `/pieces/${k}`;
  const s = `${p}/shape`;
  const mesh = shape === "mesh" || bringing;
  const sizes = SIZES[shape] ?? [];
  const called = (name: string) => fieldWord("field", doc, `${s}/${name}`) ?? name;
  const painted = (pieces[k]?.paint ?? "none") !== "none";
  return (
    <Section id="piece" title="Piece" lead="What a tape can tell.">
      <PieceTabs k={k} choose={setChosen} />
      <Text at={`${p}/name`} />
      <Choice
        at={`${s}/kind`}
        onPick={(kind) => {
          setBringing(kind === "mesh");
          if (kind !== "mesh") put(s, { kind });
        }}
      />
      {mesh && <MeshFile at={s} />}
      <ShapePicture shape={shape} sizes={sizes} names={sizes.map((name) => called(name))} />
      <Row>
        {sizes.map((name, n) => (
          <Amount
            key={name}
            at={`${s}/${name}`}
            label={
              shape === "mesh" ? called(name) : `${String.fromCharCode(65 + n)} ${called(name)}`
            }
          />
        ))}
      </Row>
      <p className="text-xs text-ink-2">Any unit: 3/8 in, 1 ft 2 in, 9.5 mm.</p>
      {shape === "pile" && <Choice at={`${s}/basket`} />}
      {shape !== "weighed" && (
        <Row>
          <Amount at={`${p}/mass_kg`} />
        </Row>
      )}
      <Choice at={`${p}/grade`} />
      <Toggle at={`${p}/between`} />
      <Row>
        <Amount at={`${p}/crust_m`} />
      </Row>
      <Choice at={`${p}/aim`} />
      <Choice at={`${p}/fragility`} />
      <Choice at={`${p}/metal`} />
      <More title="More about the piece: other metals, paint, grease, hollows, how it hangs">
        <Several at={`${p}/other_metals`} />
        <Several at={`${p}/coats`} />
        <Choice at={`${p}/paint`} />
        {painted && <Ask at={`${p}/lead_paint`} />}
        <Choice at={`${p}/grease`} />
        <Choice at={`${p}/hollow`} />
        <Several at={`${p}/parts`} />
        <Choice at={`${p}/use`} />
        <Choice at={`${p}/duty`} />
        <Row>
          <Amount at={`${p}/hardness_hrc`} />
          <Amount at={`${p}/tempered_c`} />
        </Row>
        <Choice at={`${p}/treatment`} />
        <Choice at={`${p}/contact`} />
        <Choice at={`${p}/ordnance`} />
        {pieces[k]?.ordnance === "fragment" && <Ask at={`${p}/solid`} />}
        <Choice at={`${p}/hang`} />
        <Row>
          <Amount at={`${p}/turn_deg`} />
          <Amount at={`${p}/tilt_deg`} />
          <Amount at={`${p}/contact_ohm`} />
        </Row>
        <Toggle at={`${p}/flipped`} />
        <Faces k={k} />
        <Choice at={`${p}/hanger`} />
      </More>
    </Section>
  );
}

type PieceDoc = NonNullable<Plan["pieces"]>[number];

/** Which of several pieces in the bath the fields are about; one more, or one less. */
function PieceTabs({ k, choose }: { k: number; choose: (k: number) => void }) {
  const { doc, replace } = usePlan();
  const pieces = doc.pieces ?? [];
  const add = () => {
    const last = pieces[pieces.length - 1] as PieceDoc;
    const ids = new Set(pieces.map((p) => p.id));
    const id = [...Array(21).keys()].map((n) => `p${n + 1}`).find((n) => !ids.has(n)) ?? "p";
    const spread = [...pieces, { ...last, id, name: "", masked: [], regions: [] }];
    // apart from one another, as the plan hangs several
    replace({
      ...doc,
      pieces: spread.map((p) => ({ ...p, x_m: 0, y_m: 0 })),
      said: saidAgain(doc.said, "/pieces", pieces.length - 1),
    });
    choose(pieces.length);
  };
  const remove = () => {
    const left = pieces.filter((_, n) => n !== k);
    const typed = typedWithout(doc.typed, "/pieces", k);
    replace({ ...doc, pieces: left, typed, said: saidWithout(doc.said, "/pieces", k) });
    choose(Math.max(k - 1, 0));
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      {pieces.length > 1 &&
        pieces.map((p, n) => (
          <button
            key={p.id}
            type="button"
            className="choice"
            aria-pressed={n === k}
            data-state={n === k ? "checked" : "unchecked"}
            onClick={() => choose(n)}
          >
            {n + 1} {p.name}
          </button>
        ))}
      <button type="button" className="btn btn-small" disabled={pieces.length >= 20} onClick={add}>
        Another piece in the same bath
      </button>
      {pieces.length > 1 && (
        <button type="button" className="btn btn-small" onClick={remove}>
          Remove piece {k + 1}
        </button>
      )}
    </div>
  );
}
