import { mayHaveCertificate } from "@/features/addresses/gateway";

export const dynamic = "force-dynamic";

export const GET = mayHaveCertificate;
