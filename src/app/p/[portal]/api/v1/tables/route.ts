import { getTables } from "@/features/api/handlers";
import { apiRoute } from "@/features/api/route";

export const GET = apiRoute(getTables);
