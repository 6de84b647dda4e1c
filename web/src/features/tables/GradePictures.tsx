import { GradePicture } from "@/shared/ui/GradePicture";
import { options } from "@/shared/words";

/** The four rust grades side by side. */
export function GradePictures() {
  return (
    <div className="grid max-w-2xl grid-cols-2 gap-3 py-2 sm:grid-cols-4">
      {options("piece.grade").map(([grade, name]) => (
        <figure key={grade}>
          <GradePicture grade={grade} />
          <figcaption className="text-xs">{name}</figcaption>
        </figure>
      ))}
    </div>
  );
}
