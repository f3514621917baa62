import { postFile } from "@/features/api/files";
import { apiRoute, otherMethods } from "@/features/api/route";
import { takesFile } from "@/features/files/incoming";

export const POST = apiRoute(postFile(takesFile));

const other = otherMethods("POST");

export { other as GET, other as PUT, other as PATCH, other as DELETE };
