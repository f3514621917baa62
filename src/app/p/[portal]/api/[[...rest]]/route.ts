import { nowhere } from "@/features/api/route";

export { nowhere as DELETE, nowhere as GET, nowhere as PATCH, nowhere as POST, nowhere as PUT };
