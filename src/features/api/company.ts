/** The people of one's own company, for those who lead it; and what the company has and could have. */
import { isOffered, offeredPrices } from "@/core/prices/prices";
import { dateIn } from "@/core/time/relative";
import { standingOf } from "@/data/billing/standing";
import { type CompanyDesk, companyDesk } from "@/joining/company-page";
import { apiWrite, type WriteAnswer } from "./once";
import { invalid, issues, notFound, Problem } from "./problem";
import { type ApiRequest, json, jsonBody, signedIn } from "./route";
import { type CompanyAnswer, invitationBody, type PlansAnswer, rolesBody } from "./schemas";

/** Of those who lead their company. A key that is kept to tables is no lead, whoever it is of. */
function ledBy(r: ApiRequest): CompanyDesk {
  signedIn(r);
  const desk = r.viewer.key?.within || r.seeAs ? null : companyDesk(r.file, r.viewer);
  if (!desk) throw notFound();
  return desk;
}

/** GET the people of the company that the viewer leads, its seats, and the roles that they may give. */
export function getCompany(r: ApiRequest): Response {
  const desk = ledBy(r);
  const name = (id: string): string => r.published.policy.role(id)?.name ?? id;
  const answer: CompanyAnswer = {
    seats: { used: desk.seats.used, all: desk.seats.all },
    gives: desk.give.map((id) => ({ id, name: name(id) })),
    people: desk.list().map((c) => ({
      membership: c.membershipId,
      name: c.name,
      email: c.email,
      roles: c.roles.map((id) => ({ id, name: name(id) })),
      status: c.status,
      yours: c.mine,
    })),
  };
  return json(answer);
}

const NONE: WriteAnswer = { status: 204, body: null, headers: {} };

export const postInvitation = apiWrite(
  async (r: ApiRequest) => {
    const body = invitationBody.safeParse(await jsonBody(r.request));
    if (!body.success) throw invalid("Some of it is not valid.", issues(body.error));
    return body.data;
  },
  (r, given) => {
    const done = ledBy(r).invite(given.name, given.email, given.role);
    if (done.ok) return NONE;
    const { field, message } = done.error;
    throw invalid(message, field ? [{ field, message }] : undefined);
  },
);

/** Somebody whose roles the lead may not give, or of another company, is not there. */
function mine(desk: CompanyDesk, membership: string): string {
  const found = desk.list().find((c) => c.membershipId === membership && c.mine);
  if (!found) throw notFound();
  return found.membershipId;
}

export const patchColleague = apiWrite(
  async (r: ApiRequest) => {
    const body = rolesBody.safeParse(await jsonBody(r.request));
    if (!body.success) throw invalid("Some of it is not valid.", issues(body.error));
    return body.data;
  },
  (r, given) => {
    const desk = ledBy(r);
    const problem = desk.setRoles(mine(desk, r.params.membership ?? ""), given.roles);
    if (problem) throw new Problem("not-allowed", problem);
    return NONE;
  },
);

export const deleteColleague = apiWrite(
  async () => null,
  (r) => {
    const desk = ledBy(r);
    const problem = desk.takeOut(mine(desk, r.params.membership ?? ""));
    if (problem) throw new Problem("not-allowed", problem);
    return NONE;
  },
);

/** What is offered to the company, or to anybody where nobody is signed in; and what the company has. */
export function getPlans(r: ApiRequest): Response {
  const { definition } = r.published;
  const { company } = r.viewer;
  const today = dateIn(r.viewer.now, r.viewer.timeZone);
  const standing = company && standingOf(r.file, definition, company.id, today);
  const { currency } = definition.portal;
  const answer: PlansAnswer = {
    standing: standing && {
      plan: standing.plan?.id ?? null,
      state: standing.state,
      until: standing.until,
      features: [...standing.features],
    },
    plans: definition.plans
      // The one that they are on, too, though it may not be offered any more.
      .filter((p) => isOffered(p, company?.id ?? null) || standing?.plan?.id === p.id)
      .map((p) => ({
        id: p.id,
        name: p.name,
        features: [...p.features],
        prices: offeredPrices(definition.prices, p.id).map((x) => ({
          id: x.id,
          cycle: x.cycle,
          per: x.per,
          price: { amount: x.amount, currency },
        })),
      })),
  };
  return json(answer);
}
