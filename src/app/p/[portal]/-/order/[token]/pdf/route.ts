import { orderFile } from "@/features/pay/routes";

type Props = { params: Promise<{ portal: string; token: string }> };

export async function GET(_: Request, { params }: Props): Promise<Response> {
  const { portal, token } = await params;
  return orderFile(portal, decodeURIComponent(token));
}
