import {
  BookOpen,
  CircleHelp,
  Ellipsis,
  Hammer,
  type LucideIcon,
  Plus,
  Ruler,
  Settings,
} from "lucide-react";
import { type ReactNode, useState } from "react";
import { NavLink, useLocation } from "react-router";
import { word } from "@/shared/words";

/** Where one can go; on a phone the last three are under "More". */
const PLACES: readonly [string, string, LucideIcon, boolean][] = [
  ["/book", "Book", BookOpen, true],
  ["/kit", "Kit", Hammer, true],
  ["/tables", "Tables", Ruler, false],
  ["/guide", "Trouble", CircleHelp, false],
  ["/settings", "Shop", Settings, false],
];

/** A place's icon over its name, which is whole however large the letters are. */
function Named({ icon, name }: { icon: ReactNode; name: string }) {
  return (
    <>
      <span className="flex h-[30px] items-center sm:h-[34px]">{icon}</span>
      <span className="frame-word sign whitespace-nowrap" data-place>
        {name}
      </span>
    </>
  );
}

const small = "rack-item min-w-0 max-sm:flex-1";

export function NewPlan({ className, name }: { className: string; name: string }) {
  return (
    <NavLink to="/plans/new" className={`rack-item ${className}`} aria-label="New plan">
      <Named
        icon={
          <Plus
            size={28}
            aria-hidden="true"
            className="border-2 border-dashed border-on-iron-2 p-0.5"
          />
        }
        name={name}
      />
    </NavLink>
  );
}

/** The places: on the desk they never move; on a phone five, always whole. */
export function Places() {
  const { pathname } = useLocation();
  // gone somewhere, it is folded again
  const [moreAt, setMoreAt] = useState<string>();
  const more = moreAt === pathname;
  const under = PLACES.filter(([, , , always]) => !always);
  return (
    <nav aria-label={word("frame.places")} className="relative flex shrink-0 max-sm:min-h-[66px]">
      <NavLink to="/" end className={`${small} sm:!hidden`}>
        <Named icon={<img src="/icon.svg" alt="" width={28} height={28} />} name="Today" />
      </NavLink>
      <NewPlan className="min-w-0 flex-1 sm:!hidden" name="New" />
      {PLACES.map(([to, name, Icon, always]) => (
        <NavLink key={to} to={to} className={`${small} ${always ? "" : "max-sm:!hidden"}`}>
          <Named icon={<Icon size={24} aria-hidden="true" />} name={name} />
        </NavLink>
      ))}
      <button
        type="button"
        className={`${small} sm:!hidden ${under.some(([to]) => pathname.startsWith(to)) ? "active" : ""}`}
        aria-expanded={more}
        onClick={() => setMoreAt(more ? undefined : pathname)}
      >
        <Named icon={<Ellipsis size={24} aria-hidden="true" />} name={word("frame.more")} />
      </button>
      {more && (
        <div className="absolute right-0 bottom-full flex bg-iron sm:hidden" data-more>
          {under.map(([to, name, Icon]) => (
            <NavLink key={to} to={to} className="rack-item !min-w-[80px] !py-3">
              <Named icon={<Icon size={24} aria-hidden="true" />} name={name} />
            </NavLink>
          ))}
        </div>
      )}
    </nav>
  );
}
