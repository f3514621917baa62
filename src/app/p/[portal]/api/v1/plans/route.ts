import { getPlans } from "@/features/api/company";
import { apiRoute, otherMethods } from "@/features/api/route";

export const GET = apiRoute(getPlans);

const other = otherMethods("GET");

export { other as POST, other as PUT, other as PATCH, other as DELETE };
