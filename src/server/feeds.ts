/** All who hear of events. Every process and thread that records any begins with this list. */
import { setFeeds } from "@/data/events/feeds";
import { answerLetters } from "@/letters/answers";
import { changeLetters } from "@/letters/changes";
import { sourceFeed } from "@/office/sources/back/queue";
import { moneyLetters } from "@/orders/letters";
import { webhookFeed } from "@/webhooks/sends";

/** Says who hears of events; each process does before it records any. */
export const feedEvents = (): void => setFeeds([changeLetters, answerLetters, moneyLetters, webhookFeed, sourceFeed]);
