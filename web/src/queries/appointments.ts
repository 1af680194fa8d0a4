import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { key, useChange } from "./keys";

export type Appointment = Schemas["Appointment"];

/** Appointments with one business, or (0) everybody's from today on. */
export const useAppointments = (business_id: number) =>
  useQuery({
    queryKey: key("appointments", business_id),
    queryFn: () =>
      answerOf(
        business_id
          ? client.GET("/api/businesses/{business_id}/appointments", { params: { path: { business_id } } })
          : client.GET("/api/appointments"),
      ),
  });

export const useMakeAppointment = (business_id: number) =>
  useChange(
    (body: Schemas["AppointmentRequest"]) =>
      answerOf(
        client.POST("/api/businesses/{business_id}/appointments", {
          params: { path: { business_id } },
          body,
        }),
      ),
    "outreach",
  );

export const useCancelAppointment = () =>
  useChange(
    ({ id, by }: { id: number; by: string }) =>
      answerOf(
        client.DELETE("/api/appointments/{appointment_id}", {
          params: { path: { appointment_id: id }, query: { by } },
        }),
      ),
    "outreach",
  );

export const useCalendarFeed = (by: string) =>
  useQuery({
    queryKey: key("calendarFeed", by),
    queryFn: () => answerOf(client.GET("/api/calendar-feed", { params: { query: { by } } })),
  });

/** Gives a feed a new address, or closes it. */
export const useSetFeed = () =>
  useChange(
    (body: Schemas["CalendarFeedRequest"]) => answerOf(client.PUT("/api/calendar-feed", { body })),
    "calendarFeed",
  );
