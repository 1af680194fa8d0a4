import type { Service, ServiceAsked } from "../api/client";

/** A service as it is sent to be saved. */
export const draftOf = (service: Service): ServiceAsked => ({
  title: service.title,
  sentence: service.sentence,
  fee: service.fee,
  monthly: service.monthly,
  months: service.months,
  delivery: service.delivery,
  rules: service.rules,
  gates: service.gates,
  note: "",
});
