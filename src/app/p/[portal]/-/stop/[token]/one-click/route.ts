import { oneClick, toPage } from "@/features/portal/door/one-click";

type Props = { params: Promise<{ portal: string; token: string }> };

export async function POST(request: Request, { params }: Props): Promise<Response> {
  const { portal, token } = await params;
  return oneClick(request, portal, decodeURIComponent(token));
}

/** Mail programs without one click open it as a page. */
export async function GET(_: Request, { params }: Props): Promise<Response> {
  const { portal, token } = await params;
  return toPage(portal, decodeURIComponent(token));
}
