import { mailFile } from "@/features/people/mail-file";

export async function GET(_: Request, { params }: { params: Promise<{ slug: string; message: string }> }): Promise<Response> {
  const { slug, message } = await params;
  return mailFile(slug, message);
}
