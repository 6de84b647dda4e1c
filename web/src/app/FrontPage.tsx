import { Intro, StartPage } from "@/features/start/StartPage";
import { TodayPage } from "@/features/today/TodayPage";

const empty = <StartPage intro={<Intro />} />;

/** Today; an empty shop begins with the first question. */
export function FrontPage() {
  return <TodayPage empty={empty} />;
}
