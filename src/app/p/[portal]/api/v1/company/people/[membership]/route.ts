import { deleteColleague, patchColleague } from "@/features/api/company";
import { apiRoute, otherMethods } from "@/features/api/route";

export const PATCH = apiRoute(patchColleague);
export const DELETE = apiRoute(deleteColleague);

const other = otherMethods("PATCH", "DELETE");

export { other as GET, other as POST, other as PUT };
