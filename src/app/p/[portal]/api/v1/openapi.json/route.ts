import { getOpenApi } from "@/features/api/openapi";
import { apiRoute } from "@/features/api/route";

export const GET = apiRoute(getOpenApi);
