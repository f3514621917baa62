import { takeEvents } from "@/features/pay/routes";

type Props = { params: Promise<{ portal: string }> };

export const POST = async (request: Request, { params }: Props): Promise<Response> => takeEvents(request, (await params).portal);
