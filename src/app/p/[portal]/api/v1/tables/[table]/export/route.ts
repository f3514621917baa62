import { getExport } from "@/features/api/export";
import { apiRoute } from "@/features/api/route";

export const GET = apiRoute(getExport);
