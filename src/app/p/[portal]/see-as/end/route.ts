/** The way back from "see as" to the back office. */
import { endSeeAs } from "@/features/portal/see-as";

export async function POST(_: Request, { params }: { params: Promise<{ portal: string }> }): Promise<Response> {
  return endSeeAs((await params).portal);
}
