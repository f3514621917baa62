import { invoiceFile } from "@/features/pay/routes";

type Props = { params: Promise<{ portal: string; id: string }> };

export async function GET(_: Request, { params }: Props): Promise<Response> {
  const { portal, id } = await params;
  return invoiceFile(portal, id, "csv");
}
