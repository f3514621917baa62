import { robotsOf } from "@/features/portal/robots";

export const GET = async (_: Request, { params }: { params: Promise<{ portal: string }> }): Promise<Response> =>
  robotsOf((await params).portal);
