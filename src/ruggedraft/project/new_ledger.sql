CREATE EXTENSION IF NOT EXISTS pg_trgm WITH SCHEMA public;

CREATE TYPE public.procrastinate_job_event_type AS ENUM (
    'deferred',
    'started',
    'deferred_for_retry',
    'failed',
    'succeeded',
    'cancelled',
    'abort_requested',
    'aborted',
    'scheduled',
    'retried'
);

CREATE TYPE public.procrastinate_job_status AS ENUM (
    'todo',
    'doing',
    'succeeded',
    'failed',
    'cancelled',
    'aborting',
    'aborted'
);

CREATE TYPE public.procrastinate_job_to_defer_v1 AS (
	queue_name character varying,
	task_name character varying,
	priority integer,
	lock text,
	queueing_lock text,
	args jsonb,
	scheduled_at timestamp with time zone
);

CREATE FUNCTION public.intake_listing_has_no_names() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    IF EXISTS (SELECT 1 FROM intake_listedentry WHERE listing_id = OLD.id) THEN
        RAISE foreign_key_violation USING MESSAGE = 'a listing whose names are still there';
    END IF;
    RETURN NULL;
END $$;

CREATE FUNCTION public.intake_names_have_a_listing() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
DECLARE
    named bigint;
    there bigint;
BEGIN
    SELECT count(DISTINCT listing_id) INTO named FROM noted;
    SELECT count(*) INTO there FROM (
        SELECT 1 FROM intake_cardlisting WHERE id IN (SELECT DISTINCT listing_id FROM noted) FOR KEY SHARE
    ) held;
    IF named <> there THEN
        RAISE foreign_key_violation USING MESSAGE = 'names of a listing that is not there';
    END IF;
    RETURN NULL;
END $$;

CREATE FUNCTION public.intake_names_stay() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    RAISE foreign_key_violation USING MESSAGE = 'names stay with the listing that they were noted in';
END $$;

CREATE FUNCTION public.is_append_only() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    RAISE EXCEPTION '% is append-only', TG_TABLE_NAME;
END $$;

CREATE FUNCTION public.procrastinate_cancel_job_v1(job_id bigint, abort boolean, delete_job boolean) RETURNS bigint
    LANGUAGE plpgsql
    AS $$
DECLARE
    _job_id bigint;
BEGIN
    IF delete_job THEN
        DELETE FROM procrastinate_jobs
        WHERE id = job_id AND status = 'todo'
        RETURNING id INTO _job_id;
    END IF;
    IF _job_id IS NULL THEN
        IF abort THEN
            UPDATE procrastinate_jobs
            SET abort_requested = true,
                status = CASE status
                    WHEN 'todo' THEN 'cancelled'::procrastinate_job_status ELSE status
                END
            WHERE id = job_id AND status IN ('todo', 'doing')
            RETURNING id INTO _job_id;
        ELSE
            UPDATE procrastinate_jobs
            SET status = 'cancelled'::procrastinate_job_status
            WHERE id = job_id AND status = 'todo'
            RETURNING id INTO _job_id;
        END IF;
    END IF;
    RETURN _job_id;
END;
$$;

CREATE FUNCTION public.procrastinate_defer_jobs_v1(jobs public.procrastinate_job_to_defer_v1[]) RETURNS bigint[]
    LANGUAGE plpgsql
    AS $$
DECLARE
    job_ids bigint[];
BEGIN
    WITH inserted_jobs AS (
        INSERT INTO procrastinate_jobs (queue_name, task_name, priority, lock, queueing_lock, args, scheduled_at)
        SELECT (job).queue_name,
               (job).task_name,
               (job).priority,
               (job).lock,
               (job).queueing_lock,
               (job).args,
               (job).scheduled_at
        FROM unnest(jobs) AS job
        RETURNING id
    )
    SELECT array_agg(id) FROM inserted_jobs INTO job_ids;
    RETURN job_ids;
END;
$$;

CREATE FUNCTION public.procrastinate_defer_periodic_job_v2(_queue_name character varying, _lock character varying, _queueing_lock character varying, _task_name character varying, _priority integer, _periodic_id character varying, _defer_timestamp bigint, _args jsonb) RETURNS bigint
    LANGUAGE plpgsql
    AS $$
DECLARE
	_job_id bigint;
	_defer_id bigint;
BEGIN
    INSERT
        INTO procrastinate_periodic_defers (task_name, periodic_id, defer_timestamp)
        VALUES (_task_name, _periodic_id, _defer_timestamp)
        ON CONFLICT DO NOTHING
        RETURNING id into _defer_id;
    IF _defer_id IS NULL THEN
        RETURN NULL;
    END IF;
    UPDATE procrastinate_periodic_defers
        SET job_id = (
            SELECT COALESCE((
                SELECT unnest(procrastinate_defer_jobs_v1(
                    ARRAY[
                        ROW(
                            _queue_name,
                            _task_name,
                            _priority,
                            _lock,
                            _queueing_lock,
                            _args,
                            NULL::timestamptz
                        )
                    ]::procrastinate_job_to_defer_v1[]
                ))
            ), NULL)
        )
        WHERE id = _defer_id
        RETURNING job_id INTO _job_id;
    DELETE
        FROM procrastinate_periodic_defers
        USING (
            SELECT id
            FROM procrastinate_periodic_defers
            WHERE procrastinate_periodic_defers.task_name = _task_name
            AND procrastinate_periodic_defers.periodic_id = _periodic_id
            AND procrastinate_periodic_defers.defer_timestamp < _defer_timestamp
            ORDER BY id
            FOR UPDATE
        ) to_delete
        WHERE procrastinate_periodic_defers.id = to_delete.id;
    RETURN _job_id;
END;
$$;

CREATE TABLE public.procrastinate_jobs (
    id bigint NOT NULL,
    queue_name character varying(128) NOT NULL,
    task_name character varying(128) NOT NULL,
    lock text,
    args jsonb DEFAULT '{}'::jsonb NOT NULL,
    status public.procrastinate_job_status DEFAULT 'todo'::public.procrastinate_job_status NOT NULL,
    scheduled_at timestamp with time zone,
    attempts integer DEFAULT 0 NOT NULL,
    queueing_lock text,
    priority integer DEFAULT 0 NOT NULL,
    abort_requested boolean DEFAULT false NOT NULL,
    worker_id bigint,
    CONSTRAINT check_not_todo_abort_requested CHECK ((NOT ((status = 'todo'::public.procrastinate_job_status) AND (abort_requested = true))))
);

CREATE FUNCTION public.procrastinate_fetch_job_v2(target_queue_names character varying[], p_worker_id bigint) RETURNS public.procrastinate_jobs
    LANGUAGE plpgsql
    AS $$
DECLARE
	found_jobs procrastinate_jobs;
BEGIN
    WITH candidate AS (
        SELECT jobs.*
            FROM procrastinate_jobs AS jobs
            WHERE
                -- reject the job if its lock has earlier or higher priority jobs
                NOT EXISTS (
                    SELECT 1
                        FROM procrastinate_jobs AS other_jobs
                        WHERE
                            jobs.lock IS NOT NULL
                            AND other_jobs.lock = jobs.lock
                            AND (
                                -- job with same lock is already running
                                other_jobs.status = 'doing'
                                OR
                                -- job with same lock is waiting and has higher priority (or same priority but was queued first)
                                (
                                    other_jobs.status = 'todo'
                                    AND (
                                        other_jobs.priority > jobs.priority
                                        OR (
                                        other_jobs.priority = jobs.priority
                                        AND other_jobs.id < jobs.id
                                        )
                                    )
                                )
                            )
                )
                AND jobs.status = 'todo'
                AND (target_queue_names IS NULL OR jobs.queue_name = ANY( target_queue_names ))
                AND (jobs.scheduled_at IS NULL OR jobs.scheduled_at <= now())
            ORDER BY jobs.priority DESC, jobs.id ASC LIMIT 1
            FOR UPDATE OF jobs SKIP LOCKED
    )
    UPDATE procrastinate_jobs
        SET status = 'doing', worker_id = p_worker_id
        FROM candidate
        WHERE procrastinate_jobs.id = candidate.id
        RETURNING procrastinate_jobs.* INTO found_jobs;
 RETURN found_jobs;
END;
$$;

CREATE FUNCTION public.procrastinate_finish_job_v1(job_id bigint, end_status public.procrastinate_job_status, delete_job boolean) RETURNS void
    LANGUAGE plpgsql
    AS $$
DECLARE
    _job_id bigint;
BEGIN
    IF end_status NOT IN ('succeeded', 'failed', 'aborted') THEN
        RAISE 'End status should be either "succeeded", "failed" or "aborted" (job id: %)', job_id;
    END IF;
    IF delete_job THEN
        DELETE FROM procrastinate_jobs
        WHERE id = job_id AND status IN ('todo', 'doing')
        RETURNING id INTO _job_id;
    ELSE
        UPDATE procrastinate_jobs
        SET status = end_status,
            abort_requested = false,
            attempts = CASE status
                WHEN 'doing' THEN attempts + 1 ELSE attempts
            END
        WHERE id = job_id AND status IN ('todo', 'doing')
        RETURNING id INTO _job_id;
    END IF;
    IF _job_id IS NULL THEN
        RAISE 'Job was not found or not in "doing" or "todo" status (job id: %)', job_id;
    END IF;
END;
$$;

CREATE FUNCTION public.procrastinate_notify_queue_abort_job_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
DECLARE
    payload TEXT;
BEGIN
    SELECT json_build_object('type', 'abort_job_requested', 'job_id', NEW.id)::text INTO payload;
	PERFORM pg_notify('procrastinate_queue_v1#' || NEW.queue_name, payload);
	PERFORM pg_notify('procrastinate_any_queue_v1', payload);
	RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_notify_queue_job_inserted_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
DECLARE
    payload TEXT;
BEGIN
    SELECT json_build_object('type', 'job_inserted', 'job_id', NEW.id)::text INTO payload;
	PERFORM pg_notify('procrastinate_queue_v1#' || NEW.queue_name, payload);
	PERFORM pg_notify('procrastinate_any_queue_v1', payload);
	RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_prune_stalled_workers_v1(seconds_since_heartbeat double precision) RETURNS TABLE(worker_id bigint)
    LANGUAGE plpgsql
    AS $$
BEGIN
    RETURN QUERY
    DELETE FROM procrastinate_workers
    WHERE last_heartbeat < NOW() - (seconds_since_heartbeat || 'SECOND')::INTERVAL
    RETURNING procrastinate_workers.id;
END;
$$;

CREATE FUNCTION public.procrastinate_register_worker_v1() RETURNS TABLE(worker_id bigint)
    LANGUAGE plpgsql
    AS $$
BEGIN
    RETURN QUERY
    INSERT INTO procrastinate_workers DEFAULT VALUES
    RETURNING procrastinate_workers.id;
END;
$$;

CREATE FUNCTION public.procrastinate_retry_job_v1(job_id bigint, retry_at timestamp with time zone, new_priority integer, new_queue_name character varying, new_lock character varying) RETURNS void
    LANGUAGE plpgsql
    AS $$
DECLARE
    _job_id bigint;
    _abort_requested boolean;
BEGIN
    SELECT abort_requested FROM procrastinate_jobs
    WHERE id = job_id AND status = 'doing'
    FOR UPDATE
    INTO _abort_requested;
    IF _abort_requested THEN
        UPDATE procrastinate_jobs
        SET status = 'failed'::procrastinate_job_status
        WHERE id = job_id AND status = 'doing'
        RETURNING id INTO _job_id;
    ELSE
        UPDATE procrastinate_jobs
        SET status = 'todo'::procrastinate_job_status,
            attempts = attempts + 1,
            scheduled_at = retry_at,
            priority = COALESCE(new_priority, priority),
            queue_name = COALESCE(new_queue_name, queue_name),
            lock = COALESCE(new_lock, lock)
        WHERE id = job_id AND status = 'doing'
        RETURNING id INTO _job_id;
    END IF;
    IF _job_id IS NULL THEN
        RAISE 'Job was not found or not in "doing" status (job id: %)', job_id;
    END IF;
END;
$$;

CREATE FUNCTION public.procrastinate_retry_job_v2(job_id bigint, retry_at timestamp with time zone, new_priority integer, new_queue_name character varying, new_lock character varying) RETURNS void
    LANGUAGE plpgsql
    AS $$
DECLARE
    _job_id bigint;
    _abort_requested boolean;
    _current_status procrastinate_job_status;
BEGIN
    SELECT status, abort_requested FROM procrastinate_jobs
    WHERE id = job_id AND status IN ('doing', 'failed')
    FOR UPDATE
    INTO _current_status, _abort_requested;
    IF _current_status = 'doing' AND _abort_requested THEN
        UPDATE procrastinate_jobs
        SET status = 'failed'::procrastinate_job_status
        WHERE id = job_id AND status = 'doing'
        RETURNING id INTO _job_id;
    ELSE
        UPDATE procrastinate_jobs
        SET status = 'todo'::procrastinate_job_status,
            attempts = attempts + 1,
            scheduled_at = retry_at,
            priority = COALESCE(new_priority, priority),
            queue_name = COALESCE(new_queue_name, queue_name),
            lock = COALESCE(new_lock, lock)
        WHERE id = job_id AND status IN ('doing', 'failed')
        RETURNING id INTO _job_id;
    END IF;
    IF _job_id IS NULL THEN
        RAISE 'Job was not found or has an invalid status to retry (job id: %)', job_id;
    END IF;
END;
$$;

CREATE FUNCTION public.procrastinate_trigger_abort_requested_events_procedure_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    INSERT INTO procrastinate_events(job_id, type)
        VALUES (NEW.id, 'abort_requested'::procrastinate_job_event_type);
    RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_trigger_function_scheduled_events_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    INSERT INTO procrastinate_events(job_id, type, at)
        VALUES (NEW.id, 'scheduled'::procrastinate_job_event_type, NEW.scheduled_at);
	RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_trigger_function_status_events_insert_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    INSERT INTO procrastinate_events(job_id, type)
        VALUES (NEW.id, 'deferred'::procrastinate_job_event_type);
	RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_trigger_function_status_events_update_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    WITH t AS (
        SELECT CASE
            WHEN OLD.status = 'todo'::procrastinate_job_status
                AND NEW.status = 'doing'::procrastinate_job_status
                THEN 'started'::procrastinate_job_event_type
            WHEN OLD.status = 'doing'::procrastinate_job_status
                AND NEW.status = 'todo'::procrastinate_job_status
                THEN 'deferred_for_retry'::procrastinate_job_event_type
            WHEN OLD.status = 'doing'::procrastinate_job_status
                AND NEW.status = 'failed'::procrastinate_job_status
                THEN 'failed'::procrastinate_job_event_type
            WHEN OLD.status = 'doing'::procrastinate_job_status
                AND NEW.status = 'succeeded'::procrastinate_job_status
                THEN 'succeeded'::procrastinate_job_event_type
            WHEN OLD.status = 'todo'::procrastinate_job_status
                AND (
                    NEW.status = 'cancelled'::procrastinate_job_status
                    OR NEW.status = 'failed'::procrastinate_job_status
                    OR NEW.status = 'succeeded'::procrastinate_job_status
                )
                THEN 'cancelled'::procrastinate_job_event_type
            WHEN OLD.status = 'doing'::procrastinate_job_status
                AND NEW.status = 'aborted'::procrastinate_job_status
                THEN 'aborted'::procrastinate_job_event_type
            WHEN OLD.status = 'failed'::procrastinate_job_status
                AND NEW.status = 'todo'::procrastinate_job_status
                THEN 'retried'::procrastinate_job_event_type
            ELSE NULL
        END as event_type
    )
    INSERT INTO procrastinate_events(job_id, type)
        SELECT NEW.id, t.event_type
        FROM t
        WHERE t.event_type IS NOT NULL;
	RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_unlink_periodic_defers_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE procrastinate_periodic_defers
    SET job_id = NULL
    WHERE job_id = OLD.id;
    RETURN OLD;
END;
$$;

CREATE FUNCTION public.procrastinate_unregister_worker_v1(worker_id bigint) RETURNS void
    LANGUAGE plpgsql
    AS $$
BEGIN
    DELETE FROM procrastinate_workers
    WHERE id = worker_id;
END;
$$;

CREATE FUNCTION public.procrastinate_update_heartbeat_v1(worker_id bigint) RETURNS void
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE procrastinate_workers
    SET last_heartbeat = NOW()
    WHERE id = worker_id;
END;
$$;

CREATE FUNCTION public.rolls_count_clipopening() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE rolls_roll SET version = version + 1 WHERE id IN (SELECT DISTINCT roll_id FROM noted);
    RETURN NULL;
END $$;

CREATE FUNCTION public.rolls_count_copy() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE rolls_roll SET version = version + 1 WHERE id IN (SELECT DISTINCT roll_id FROM noted);
    RETURN NULL;
END $$;

CREATE FUNCTION public.rolls_count_leftbehind() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE rolls_roll SET version = version + 1, content = content + 1 WHERE id IN (SELECT DISTINCT roll_id FROM noted);
    RETURN NULL;
END $$;

CREATE FUNCTION public.rolls_count_reading() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE rolls_roll SET version = version + 1 WHERE id IN (SELECT DISTINCT c.roll_id FROM noted n JOIN rolls_copy c ON c.id = n.copy_id);
    RETURN NULL;
END $$;

CREATE FUNCTION public.rolls_count_readingresult() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE rolls_roll SET version = version + 1 WHERE id IN (SELECT DISTINCT c.roll_id FROM (SELECT DISTINCT reading_id FROM noted) n JOIN rolls_reading r ON r.id = n.reading_id JOIN rolls_copy c ON c.id = r.copy_id);
    RETURN NULL;
END $$;

CREATE FUNCTION public.rolls_count_rollfile() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE rolls_roll SET version = version + 1, content = content + 1 WHERE id IN (SELECT DISTINCT roll_id FROM noted);
    RETURN NULL;
END $$;

CREATE FUNCTION public.rolls_count_take() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE rolls_roll SET version = version + 1, content = content + 1 WHERE id IN (SELECT DISTINCT roll_id FROM noted);
    RETURN NULL;
END $$;

CREATE FUNCTION public.rolls_count_waiver() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE rolls_roll SET version = version + 1, content = content + 1 WHERE id IN (SELECT DISTINCT roll_id FROM noted);
    RETURN NULL;
END $$;

CREATE TABLE public.accounts_edition (
    id bigint NOT NULL,
    "on" character varying(8) NOT NULL,
    about character varying(80) NOT NULL,
    number integer NOT NULL,
    at timestamp with time zone NOT NULL,
    sha256 character varying(64) NOT NULL,
    facts bytea NOT NULL,
    head bigint NOT NULL,
    seal character varying(64) NOT NULL,
    by_id bigint NOT NULL,
    production_id bigint NOT NULL,
    CONSTRAINT accounts_edition_number_check CHECK ((number >= 0))
);
ALTER TABLE public.accounts_edition ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.accounts_edition_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.accounts_paper (
    edition_id bigint NOT NULL,
    asked_at timestamp with time zone NOT NULL,
    done integer NOT NULL,
    of integer NOT NULL,
    content bytea,
    made boolean NOT NULL,
    trouble character varying(300) NOT NULL,
    CONSTRAINT accounts_paper_done_check CHECK ((done >= 0)),
    CONSTRAINT accounts_paper_of_check CHECK ((of >= 0))
);

CREATE TABLE public.adopting_comparisonrow (
    id bigint NOT NULL,
    n integer NOT NULL,
    kind character varying(16) NOT NULL,
    path text NOT NULL,
    "left" bigint,
    "right" bigint,
    elsewhere text NOT NULL,
    comparison_id bigint NOT NULL,
    reason text NOT NULL,
    CONSTRAINT adopting_comparisonrow_n_check CHECK ((n >= 0))
);
ALTER TABLE public.adopting_comparisonrow ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.adopting_comparisonrow_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.adopting_storecomparison (
    id bigint NOT NULL,
    asked_at timestamp with time zone NOT NULL,
    finished_at timestamp with time zone,
    trouble character varying(300) NOT NULL,
    left_files integer NOT NULL,
    left_bytes bigint NOT NULL,
    right_files integer NOT NULL,
    right_bytes bigint NOT NULL,
    kinds jsonb NOT NULL,
    no_roll integer NOT NULL,
    left_id bigint,
    person_id bigint NOT NULL,
    right_id bigint NOT NULL,
    station_id bigint NOT NULL,
    by_content boolean NOT NULL,
    cached integer NOT NULL,
    read bigint NOT NULL,
    read_at timestamp with time zone,
    stopped_by_id bigint,
    doubted integer NOT NULL,
    CONSTRAINT adopting_storecomparison_cached_check CHECK ((cached >= 0)),
    CONSTRAINT adopting_storecomparison_doubted_check CHECK ((doubted >= 0)),
    CONSTRAINT adopting_storecomparison_left_files_check CHECK ((left_files >= 0)),
    CONSTRAINT adopting_storecomparison_no_roll_check CHECK ((no_roll >= 0)),
    CONSTRAINT adopting_storecomparison_right_files_check CHECK ((right_files >= 0))
);
ALTER TABLE public.adopting_storecomparison ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.adopting_storecomparison_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.adopting_storesearch (
    id bigint NOT NULL,
    asked_at timestamp with time zone NOT NULL,
    finished_at timestamp with time zone,
    trouble character varying(300) NOT NULL,
    files integer NOT NULL,
    bytes bigint NOT NULL,
    rolls jsonb NOT NULL,
    strangers jsonb NOT NULL,
    strangers_left integer NOT NULL,
    person_id bigint NOT NULL,
    station_id bigint NOT NULL,
    store_id bigint NOT NULL,
    CONSTRAINT adopting_storesearch_files_check CHECK ((files >= 0)),
    CONSTRAINT adopting_storesearch_strangers_left_check CHECK ((strangers_left >= 0))
);
ALTER TABLE public.adopting_storesearch ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.adopting_storesearch_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.auth_group (
    id integer NOT NULL,
    name character varying(150) NOT NULL
);
ALTER TABLE public.auth_group ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.auth_group_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.auth_group_permissions (
    id bigint NOT NULL,
    group_id integer NOT NULL,
    permission_id integer NOT NULL
);
ALTER TABLE public.auth_group_permissions ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.auth_group_permissions_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.auth_permission (
    id integer NOT NULL,
    name character varying(255) NOT NULL,
    content_type_id integer NOT NULL,
    codename character varying(100) NOT NULL
);
ALTER TABLE public.auth_permission ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.auth_permission_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.axes_accessattempt (
    id integer NOT NULL,
    user_agent character varying(255) NOT NULL,
    ip_address inet,
    username character varying(255),
    http_accept character varying(1025) NOT NULL,
    path_info character varying(255) NOT NULL,
    attempt_time timestamp with time zone NOT NULL,
    get_data text NOT NULL,
    post_data text NOT NULL,
    failures_since_start integer NOT NULL,
    CONSTRAINT axes_accessattempt_failures_since_start_check CHECK ((failures_since_start >= 0))
);
ALTER TABLE public.axes_accessattempt ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.axes_accessattempt_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.axes_accessattemptexpiration (
    access_attempt_id integer NOT NULL,
    expires_at timestamp with time zone NOT NULL
);

CREATE TABLE public.axes_accessfailurelog (
    id integer NOT NULL,
    user_agent character varying(255) NOT NULL,
    ip_address inet,
    username character varying(255),
    http_accept character varying(1025) NOT NULL,
    path_info character varying(255) NOT NULL,
    attempt_time timestamp with time zone NOT NULL,
    locked_out boolean NOT NULL
);
ALTER TABLE public.axes_accessfailurelog ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.axes_accessfailurelog_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.axes_accesslog (
    id integer NOT NULL,
    user_agent character varying(255) NOT NULL,
    ip_address inet,
    username character varying(255),
    http_accept character varying(1025) NOT NULL,
    path_info character varying(255) NOT NULL,
    attempt_time timestamp with time zone NOT NULL,
    logout_time timestamp with time zone,
    session_hash character varying(64) NOT NULL
);
ALTER TABLE public.axes_accesslog ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.axes_accesslog_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.camera_reports_camerareport (
    id bigint NOT NULL,
    name character varying(200) NOT NULL,
    sha256 character varying(64) NOT NULL,
    at timestamp with time zone NOT NULL,
    withdrawn_at timestamp with time zone,
    by_id bigint NOT NULL,
    production_id bigint NOT NULL,
    withdrawn_by_id bigint
);
ALTER TABLE public.camera_reports_camerareport ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.camera_reports_camerareport_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.camera_reports_reportcolumns (
    id bigint NOT NULL,
    columns jsonb NOT NULL,
    production_id bigint NOT NULL
);
ALTER TABLE public.camera_reports_reportcolumns ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.camera_reports_reportcolumns_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.camera_reports_reportedline (
    id bigint NOT NULL,
    line integer NOT NULL,
    roll character varying(200) NOT NULL,
    clip character varying(200) NOT NULL,
    scene character varying(200) NOT NULL,
    take character varying(200) NOT NULL,
    remark text NOT NULL,
    report_id bigint NOT NULL,
    CONSTRAINT camera_reports_reportedline_line_check CHECK ((line >= 0))
);
ALTER TABLE public.camera_reports_reportedline ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.camera_reports_reportedline_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.certificates_signingkey (
    id bigint NOT NULL,
    public bytea NOT NULL,
    since timestamp with time zone NOT NULL,
    person_id bigint,
    production_id bigint NOT NULL
);
ALTER TABLE public.certificates_signingkey ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.certificates_signingkey_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.checks_checkrun (
    run_id bigint NOT NULL,
    copy_id bigint NOT NULL
);

CREATE TABLE public.choosing_mark (
    id bigint NOT NULL,
    kind character varying(10) NOT NULL,
    words text NOT NULL,
    timecode character varying(11) NOT NULL,
    at timestamp with time zone NOT NULL,
    withdrawn_at timestamp with time zone,
    by_id bigint NOT NULL,
    file_id bigint NOT NULL,
    roll_id bigint NOT NULL,
    withdrawn_by_id bigint
);
ALTER TABLE public.choosing_mark ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.choosing_mark_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_cardsummary (
    card_id bigint NOT NULL,
    key text NOT NULL,
    rolls bigint[] NOT NULL,
    cover jsonb NOT NULL,
    entries character varying(64) NOT NULL,
    gone_open boolean NOT NULL,
    gone_rolls bigint[] NOT NULL
);

CREATE TABLE public.clearing_clearance (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    evidence jsonb NOT NULL,
    card_id bigint NOT NULL,
    listing_id bigint NOT NULL,
    roll_id bigint NOT NULL,
    files bytea
);
ALTER TABLE public.clearing_clearance ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_clearance_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_clearance_rolls (
    id bigint NOT NULL,
    clearance_id bigint NOT NULL,
    roll_id bigint NOT NULL
);
ALTER TABLE public.clearing_clearance_rolls ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_clearance_rolls_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_clearedelsewhere (
    id bigint NOT NULL,
    unit character varying(80) NOT NULL,
    card character varying(40) NOT NULL,
    at timestamp with time zone NOT NULL,
    evidence jsonb NOT NULL,
    files bytea,
    revoked text NOT NULL
);
ALTER TABLE public.clearing_clearedelsewhere ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_clearedelsewhere_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_clearedelsewhere_rolls (
    id bigint NOT NULL,
    clearedelsewhere_id bigint NOT NULL,
    roll_id bigint NOT NULL
);
ALTER TABLE public.clearing_clearedelsewhere_rolls ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_clearedelsewhere_rolls_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_handedback (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    clearance_id bigint NOT NULL,
    person_id bigint NOT NULL,
    "to" character varying(80) NOT NULL,
    after bigint NOT NULL
);
ALTER TABLE public.clearing_handedback ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_handedback_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_hold (
    id bigint NOT NULL,
    reason character varying(300) NOT NULL,
    placed_at timestamp with time zone NOT NULL,
    lifted_at timestamp with time zone,
    lifted_by_id bigint,
    placed_by_id bigint NOT NULL,
    roll_id bigint,
    camera_id bigint,
    card_id bigint,
    ends character varying(20) NOT NULL,
    lifted_why character varying(300) NOT NULL,
    refusal boolean NOT NULL,
    until timestamp with time zone,
    CONSTRAINT hold_by_date_has_one CHECK ((((until IS NULL) OR ((ends)::text = 'date'::text)) AND (1 = (
CASE
    WHEN (until IS NULL) THEN 1
    ELSE 0
END +
CASE
    WHEN ((ends)::text = 'date'::text) THEN 1
    ELSE 0
END)))),
    CONSTRAINT hold_is_on_one_thing CHECK ((((camera_id IS NULL) AND (card_id IS NULL) AND (roll_id IS NOT NULL)) OR ((camera_id IS NULL) AND (card_id IS NOT NULL) AND (roll_id IS NULL)) OR ((camera_id IS NOT NULL) AND (card_id IS NULL) AND (roll_id IS NULL))))
);
ALTER TABLE public.clearing_hold ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_hold_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_removal (
    run_id bigint NOT NULL,
    card_id bigint NOT NULL,
    listing_id bigint NOT NULL,
    second_id bigint
);

CREATE TABLE public.clearing_removalasked (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    digest character varying(64) NOT NULL,
    card_id bigint NOT NULL,
    person_id bigint NOT NULL,
    removal_id bigint
);
ALTER TABLE public.clearing_removalasked ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_removalasked_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_removedfile (
    id bigint NOT NULL,
    path text NOT NULL,
    size bigint NOT NULL,
    store character varying(80) NOT NULL,
    removed_at timestamp with time zone,
    trouble text NOT NULL,
    removal_id bigint NOT NULL,
    roll_id bigint NOT NULL
);
ALTER TABLE public.clearing_removedfile ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_removedfile_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_revocation (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    reason character varying(300) NOT NULL,
    "out" boolean NOT NULL,
    clearance_id bigint NOT NULL,
    listing_id bigint NOT NULL,
    person_id bigint NOT NULL
);
ALTER TABLE public.clearing_revocation ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_revocation_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_signature (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    digest character varying(64) NOT NULL,
    person_id bigint NOT NULL,
    roll_id bigint NOT NULL,
    seen jsonb NOT NULL,
    session character varying(64) NOT NULL,
    revocation_id bigint
);
ALTER TABLE public.clearing_signature ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_signature_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.clearing_signingasked (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    decided_at timestamp with time zone,
    card_id bigint NOT NULL,
    person_id bigint NOT NULL
);
ALTER TABLE public.clearing_signingasked ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.clearing_signingasked_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.crew_invitation (
    id bigint NOT NULL,
    secret character varying(64) NOT NULL,
    role character varying(20) NOT NULL,
    at timestamp with time zone NOT NULL,
    until timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    by_id bigint NOT NULL,
    person_id bigint,
    production_id bigint
);
ALTER TABLE public.crew_invitation ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.crew_invitation_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.crew_membership (
    id bigint NOT NULL,
    role character varying(20) NOT NULL,
    off_since timestamp with time zone,
    person_id bigint NOT NULL,
    production_id bigint NOT NULL
);
ALTER TABLE public.crew_membership ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.crew_membership_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.crew_person (
    id bigint NOT NULL,
    password character varying(128) NOT NULL,
    last_login timestamp with time zone,
    is_superuser boolean NOT NULL,
    username character varying(150) NOT NULL,
    first_name character varying(150) NOT NULL,
    last_name character varying(150) NOT NULL,
    email character varying(254) NOT NULL,
    is_staff boolean NOT NULL,
    is_active boolean NOT NULL,
    date_joined timestamp with time zone NOT NULL
);

CREATE TABLE public.crew_person_groups (
    id bigint NOT NULL,
    person_id bigint NOT NULL,
    group_id integer NOT NULL
);
ALTER TABLE public.crew_person_groups ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.crew_person_groups_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);
ALTER TABLE public.crew_person ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.crew_person_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.crew_person_user_permissions (
    id bigint NOT NULL,
    person_id bigint NOT NULL,
    permission_id integer NOT NULL
);
ALTER TABLE public.crew_person_user_permissions ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.crew_person_user_permissions_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.crew_pin (
    id bigint NOT NULL,
    hashed character varying(128) NOT NULL,
    set_at timestamp with time zone NOT NULL,
    person_id bigint NOT NULL
);
ALTER TABLE public.crew_pin ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.crew_pin_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.crew_pintry (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    "right" boolean NOT NULL,
    person_id bigint NOT NULL,
    screen_id bigint NOT NULL
);
ALTER TABLE public.crew_pintry ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.crew_pintry_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.crew_sharedscreen (
    id bigint NOT NULL,
    name character varying(60) NOT NULL,
    secret character varying(64) NOT NULL,
    at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    by_id bigint NOT NULL,
    production_id bigint NOT NULL
);
ALTER TABLE public.crew_sharedscreen ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.crew_sharedscreen_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.days_frozenday (
    id bigint NOT NULL,
    day date NOT NULL,
    at timestamp with time zone NOT NULL,
    account text NOT NULL,
    by_id bigint NOT NULL,
    production_id bigint NOT NULL
);
ALTER TABLE public.days_frozenday ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.days_frozenday_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.days_rollmaterial (
    roll_id bigint NOT NULL,
    key text NOT NULL,
    clips integer NOT NULL,
    seconds double precision NOT NULL,
    untold integer NOT NULL,
    bars jsonb NOT NULL,
    CONSTRAINT days_rollmaterial_clips_check CHECK ((clips >= 0)),
    CONSTRAINT days_rollmaterial_untold_check CHECK ((untold >= 0))
);

CREATE TABLE public.delivering_clientlink (
    id bigint NOT NULL,
    secret character varying(64) NOT NULL,
    hashed character varying(128) NOT NULL,
    until timestamp with time zone NOT NULL,
    revoked_at timestamp with time zone,
    consignment_id bigint NOT NULL
);
ALTER TABLE public.delivering_clientlink ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.delivering_clientlink_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.delivering_consignedroll (
    id bigint NOT NULL,
    files bigint[],
    edition_id bigint NOT NULL,
    roll_id bigint NOT NULL,
    consignment_id bigint NOT NULL,
    until bigint NOT NULL
);
ALTER TABLE public.delivering_consignedroll ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.delivering_consignedroll_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.delivering_consignment (
    id bigint NOT NULL,
    "to" character varying(120) NOT NULL,
    way character varying(10) NOT NULL,
    note character varying(500) NOT NULL,
    at timestamp with time zone NOT NULL,
    withdrawn_at timestamp with time zone,
    by_id bigint NOT NULL,
    production_id bigint NOT NULL,
    withdrawn_by_id bigint
);
ALTER TABLE public.delivering_consignment ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.delivering_consignment_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.delivering_emblem (
    id bigint NOT NULL,
    picture bytea NOT NULL,
    at timestamp with time zone NOT NULL,
    by_id bigint NOT NULL,
    production_id bigint NOT NULL
);
ALTER TABLE public.delivering_emblem ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.delivering_emblem_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.delivering_fetched (
    id bigint NOT NULL,
    first bigint NOT NULL,
    size bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    origin character varying(80) NOT NULL,
    consignment_id bigint NOT NULL,
    file_id bigint NOT NULL
);
ALTER TABLE public.delivering_fetched ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.delivering_fetched_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.delivering_passwordtry (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    link_id bigint NOT NULL
);
ALTER TABLE public.delivering_passwordtry ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.delivering_passwordtry_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.delivering_receipt (
    id bigint NOT NULL,
    name character varying(80) NOT NULL,
    checked boolean NOT NULL,
    at timestamp with time zone NOT NULL,
    consignment_id bigint NOT NULL,
    person_id bigint
);
ALTER TABLE public.delivering_receipt ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.delivering_receipt_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.django_content_type (
    id integer NOT NULL,
    app_label character varying(100) NOT NULL,
    model character varying(100) NOT NULL
);
ALTER TABLE public.django_content_type ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.django_content_type_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.django_migrations (
    id bigint NOT NULL,
    app character varying(255) NOT NULL,
    name character varying(255) NOT NULL,
    applied timestamp with time zone NOT NULL
);
ALTER TABLE public.django_migrations ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.django_migrations_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.django_session (
    session_key character varying(40) NOT NULL,
    session_data text NOT NULL,
    expire_date timestamp with time zone NOT NULL
);

CREATE TABLE public.footage_gear (
    id bigint NOT NULL,
    name text NOT NULL
);
ALTER TABLE public.footage_gear ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.footage_gear_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.footage_media (
    id bigint NOT NULL,
    facts jsonb NOT NULL,
    preview bytea,
    gear_id bigint
);
ALTER TABLE public.footage_media ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.footage_media_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_card (
    id bigint NOT NULL,
    label character varying(40) NOT NULL,
    kind character varying(40) NOT NULL,
    capacity bigint NOT NULL,
    camera_id bigint
);
ALTER TABLE public.intake_card ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_card_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_cardaside (
    id bigint NOT NULL,
    kind character varying(12) NOT NULL,
    at timestamp with time zone NOT NULL,
    reason character varying(300) NOT NULL,
    ended_at timestamp with time zone,
    ended_why character varying(300) NOT NULL,
    card_id bigint NOT NULL,
    ended_by_id bigint,
    person_id bigint NOT NULL
);
ALTER TABLE public.intake_cardaside ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_cardaside_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_cardlisting (
    id bigint NOT NULL,
    began_at timestamp with time zone NOT NULL,
    confirmed_at timestamp with time zone,
    version integer NOT NULL,
    compared integer NOT NULL,
    depth smallint NOT NULL,
    layout character varying(120) NOT NULL,
    files integer NOT NULL,
    bytes bigint NOT NULL,
    first_ns bigint,
    last_ns bigint,
    digest character varying(64) NOT NULL,
    bare_folders jsonb NOT NULL,
    indexes jsonb NOT NULL,
    headers_read_at timestamp with time zone,
    card_id bigint,
    insertion_id bigint NOT NULL,
    closed_folders jsonb NOT NULL,
    CONSTRAINT intake_cardlisting_compared_check CHECK ((compared >= 0)),
    CONSTRAINT intake_cardlisting_depth_check CHECK ((depth >= 0)),
    CONSTRAINT intake_cardlisting_files_check CHECK ((files >= 0)),
    CONSTRAINT intake_cardlisting_version_check CHECK ((version >= 0))
);
ALTER TABLE public.intake_cardlisting ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_cardlisting_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_cardserial (
    id bigint NOT NULL,
    serial character varying(80) NOT NULL,
    card_id bigint NOT NULL
);
ALTER TABLE public.intake_cardserial ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_cardserial_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_cardtrusted (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    reason character varying(300) NOT NULL,
    after bigint NOT NULL,
    card_id bigint NOT NULL,
    person_id bigint NOT NULL
);
ALTER TABLE public.intake_cardtrusted ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_cardtrusted_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_entrymedia (
    entry_id bigint NOT NULL,
    media_id bigint NOT NULL
);

CREATE TABLE public.intake_errand (
    id bigint NOT NULL,
    kind character varying(20) NOT NULL,
    said jsonb NOT NULL,
    at timestamp with time zone NOT NULL,
    done_at timestamp with time zone,
    refused character varying(500) NOT NULL,
    person_id bigint NOT NULL,
    station_id bigint NOT NULL
);
ALTER TABLE public.intake_errand ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_errand_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_folderreader (
    id bigint NOT NULL,
    path character varying(1000) NOT NULL,
    at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    person_id bigint NOT NULL,
    station_id bigint,
    finals boolean NOT NULL
);
ALTER TABLE public.intake_folderreader ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_folderreader_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_goneanswer (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    reason character varying(300) NOT NULL,
    card_id bigint NOT NULL,
    person_id bigint NOT NULL
);
ALTER TABLE public.intake_goneanswer ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_goneanswer_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_gonefile (
    id bigint NOT NULL,
    path text NOT NULL,
    size bigint NOT NULL,
    modified_ns bigint NOT NULL,
    fingerprint character varying(32) NOT NULL,
    answer_id bigint,
    card_id bigint NOT NULL,
    missed_id bigint NOT NULL,
    seen_id bigint NOT NULL
);
ALTER TABLE public.intake_gonefile ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_gonefile_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_insertion (
    id bigint NOT NULL,
    serial character varying(80) NOT NULL,
    kind character varying(40) NOT NULL,
    volume character varying(80) NOT NULL,
    capacity bigint NOT NULL,
    largest_file bigint,
    token character varying(200) NOT NULL,
    inside smallint NOT NULL,
    levels_up smallint NOT NULL,
    inserted_at timestamp with time zone NOT NULL,
    removed_at timestamp with time zone,
    trouble character varying(500) NOT NULL,
    card_id bigint,
    reader_id bigint NOT NULL,
    release_asked_at timestamp with time zone,
    release_trouble character varying(300) DEFAULT ''::character varying NOT NULL,
    released_at timestamp with time zone,
    CONSTRAINT intake_insertion_inside_check CHECK ((inside >= 0)),
    CONSTRAINT intake_insertion_levels_up_check CHECK ((levels_up >= 0))
);
ALTER TABLE public.intake_insertion ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_insertion_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_listedentry (
    id bigint NOT NULL,
    path text NOT NULL,
    kind character varying(12) NOT NULL,
    size bigint NOT NULL,
    modified_ns bigint NOT NULL,
    detail text NOT NULL,
    fingerprint character varying(32) NOT NULL,
    algorithm character varying(10) NOT NULL,
    checksum character varying(128) NOT NULL,
    listing_id bigint NOT NULL
);
ALTER TABLE public.intake_listedentry ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_listedentry_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_notours (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    withdrawn_at timestamp with time zone,
    insertion_id bigint NOT NULL,
    person_id bigint NOT NULL
);
ALTER TABLE public.intake_notours ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_notours_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_olderfingerprints (
    id bigint NOT NULL,
    kind character varying(10) NOT NULL
);
ALTER TABLE public.intake_olderfingerprints ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_olderfingerprints_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_reader (
    id bigint NOT NULL,
    port character varying(200) NOT NULL,
    name character varying(80) NOT NULL,
    path character varying(1000) NOT NULL,
    gone_at timestamp with time zone,
    station_id bigint NOT NULL,
    unattended_by_id bigint,
    unattended_plan_id bigint,
    called character varying(80) NOT NULL
);
ALTER TABLE public.intake_reader ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_reader_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.intake_saidreader (
    id bigint NOT NULL,
    port character varying(200) NOT NULL,
    at timestamp with time zone NOT NULL,
    withdrawn_at timestamp with time zone,
    person_id bigint NOT NULL,
    station_id bigint
);
ALTER TABLE public.intake_saidreader ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.intake_saidreader_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.journal_journalentry (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    origin character varying(80) NOT NULL,
    production bigint,
    act character varying(40) NOT NULL,
    subject character varying(200) NOT NULL,
    sentence text NOT NULL,
    detail jsonb NOT NULL,
    seal character varying(64) NOT NULL,
    person_id bigint
);
ALTER TABLE public.journal_journalentry ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.journal_journalentry_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.keywords_beside (
    id bigint NOT NULL,
    changes integer NOT NULL,
    version bigint NOT NULL,
    path text NOT NULL,
    trouble text NOT NULL,
    copy_id bigint NOT NULL,
    file_id bigint NOT NULL,
    CONSTRAINT keywords_beside_changes_check CHECK ((changes >= 0))
);
ALTER TABLE public.keywords_beside ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.keywords_beside_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.keywords_described (
    file_id bigint NOT NULL,
    changes integer NOT NULL,
    roll_id bigint NOT NULL,
    CONSTRAINT keywords_described_changes_check CHECK ((changes >= 0))
);

CREATE TABLE public.keywords_saying (
    id bigint NOT NULL,
    what character varying(10) NOT NULL,
    text text NOT NULL,
    at timestamp with time zone NOT NULL,
    withdrawn_at timestamp with time zone,
    by_id bigint NOT NULL,
    file_id bigint NOT NULL,
    roll_id bigint NOT NULL,
    withdrawn_by_id bigint
);
ALTER TABLE public.keywords_saying ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.keywords_saying_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.kit_custody (
    id bigint NOT NULL,
    outside character varying(80) NOT NULL,
    note character varying(200) NOT NULL,
    at timestamp with time zone NOT NULL,
    by_id bigint NOT NULL,
    card_id bigint,
    device_id bigint,
    holder_id bigint,
    place_id bigint,
    after bigint NOT NULL,
    CONSTRAINT custody_of_a_card_or_a_device CHECK ((((card_id IS NULL) OR (device_id IS NULL)) AND (1 = (
CASE
    WHEN (card_id IS NULL) THEN 1
    ELSE 0
END +
CASE
    WHEN (device_id IS NULL) THEN 1
    ELSE 0
END)))),
    CONSTRAINT somebody_of_the_crew_or_somebody_else CHECK (((holder_id IS NULL) OR ((outside)::text = ''::text)))
);
ALTER TABLE public.kit_custody ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.kit_custody_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.kit_device (
    id bigint NOT NULL,
    name character varying(80) NOT NULL,
    medium character varying(10) NOT NULL,
    location_id bigint NOT NULL
);
ALTER TABLE public.kit_device ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.kit_device_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.kit_deviceloss (
    id bigint NOT NULL,
    reported_at timestamp with time zone NOT NULL,
    reason character varying(300) NOT NULL,
    found_at timestamp with time zone,
    found_after bigint NOT NULL,
    device_id bigint NOT NULL,
    found_by_id bigint,
    reported_by_id bigint NOT NULL
);
ALTER TABLE public.kit_deviceloss ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.kit_deviceloss_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.kit_location (
    id bigint NOT NULL,
    name character varying(80) NOT NULL,
    offsite boolean NOT NULL
);
ALTER TABLE public.kit_location ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.kit_location_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.kit_station (
    id bigint NOT NULL,
    name character varying(40) NOT NULL,
    seen_at timestamp with time zone,
    clock_off_s double precision NOT NULL,
    joined_at timestamp with time zone,
    joined_from character varying(60) NOT NULL,
    plugged_in jsonb NOT NULL,
    role character varying(63) NOT NULL,
    turned_away_at timestamp with time zone
);
ALTER TABLE public.kit_station ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.kit_station_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.kit_stationticket (
    id bigint NOT NULL,
    secret character varying(64) NOT NULL,
    at timestamp with time zone NOT NULL,
    until timestamp with time zone NOT NULL,
    used_at timestamp with time zone,
    by_id bigint NOT NULL
);
ALTER TABLE public.kit_stationticket ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.kit_stationticket_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.live_presence (
    stream uuid NOT NULL,
    production bigint NOT NULL,
    screen character varying(60) NOT NULL,
    came_at timestamp with time zone NOT NULL,
    seen_at timestamp with time zone NOT NULL,
    person_id bigint
);

CREATE TABLE public.making_room_makingroom (
    run_id bigint NOT NULL,
    files jsonb NOT NULL,
    with_kept boolean NOT NULL,
    delivered_before timestamp with time zone NOT NULL,
    after bigint NOT NULL,
    copy_id bigint NOT NULL
);

CREATE TABLE public.making_room_takenoff (
    id bigint NOT NULL,
    removed_at timestamp with time zone,
    trouble text NOT NULL,
    file_id bigint NOT NULL,
    run_id bigint NOT NULL
);
ALTER TABLE public.making_room_takenoff ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.making_room_takenoff_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.news_hook (
    id bigint NOT NULL,
    name character varying(80) NOT NULL,
    address character varying(500) NOT NULL,
    kinds character varying(20)[] NOT NULL,
    sealed bytea NOT NULL,
    at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    by_id bigint NOT NULL,
    production_id bigint NOT NULL,
    plan_id bigint
);
ALTER TABLE public.news_hook ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.news_hook_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.news_news (
    id bigint NOT NULL,
    uuid uuid NOT NULL,
    kind character varying(20) NOT NULL,
    key character varying(120) NOT NULL,
    subject character varying(120) NOT NULL,
    sentence text NOT NULL,
    roll bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    over_at timestamp with time zone,
    aside boolean NOT NULL,
    seen_at timestamp with time zone,
    escalated_at timestamp with time zone,
    production_id bigint NOT NULL,
    seen_by_id bigint
);
ALTER TABLE public.news_news ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.news_news_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.news_newschoice (
    id bigint NOT NULL,
    choices jsonb NOT NULL,
    quiet_from smallint NOT NULL,
    quiet_until smallint NOT NULL,
    person_id bigint NOT NULL,
    production_id bigint NOT NULL,
    CONSTRAINT news_newschoice_quiet_from_check CHECK ((quiet_from >= 0)),
    CONSTRAINT news_newschoice_quiet_until_check CHECK ((quiet_until >= 0))
);
ALTER TABLE public.news_newschoice ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.news_newschoice_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.news_newsrules (
    id bigint NOT NULL,
    escalate_minutes smallint,
    production_id bigint NOT NULL,
    begun_at timestamp with time zone,
    CONSTRAINT news_newsrules_escalate_minutes_check CHECK ((escalate_minutes >= 0))
);
ALTER TABLE public.news_newsrules ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.news_newsrules_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.news_sending (
    id bigint NOT NULL,
    escalation boolean NOT NULL,
    due_at timestamp with time zone,
    tries smallint NOT NULL,
    sent_at timestamp with time zone,
    trouble character varying(300) NOT NULL,
    hook_id bigint,
    news_id bigint NOT NULL,
    person_id bigint,
    CONSTRAINT news_sending_tries_check CHECK ((tries >= 0))
);
ALTER TABLE public.news_sending ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.news_sending_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.notes_note (
    id bigint NOT NULL,
    "on" character varying(10) NOT NULL,
    day date,
    words text NOT NULL,
    at timestamp with time zone NOT NULL,
    withdrawn_at timestamp with time zone,
    by_id bigint NOT NULL,
    card_id bigint,
    clip_id bigint,
    production_id bigint NOT NULL,
    roll_id bigint,
    store_id bigint,
    withdrawn_by_id bigint
);
ALTER TABLE public.notes_note ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.notes_note_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.notes_note_mentions (
    id bigint NOT NULL,
    note_id bigint NOT NULL,
    person_id bigint NOT NULL
);
ALTER TABLE public.notes_note_mentions ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.notes_note_mentions_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.offloads_afterrun (
    id bigint NOT NULL,
    program character varying(80) NOT NULL,
    started_at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    code integer,
    output text NOT NULL,
    trouble character varying(300) NOT NULL,
    offload_id bigint NOT NULL
);
ALTER TABLE public.offloads_afterrun ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.offloads_afterrun_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.offloads_feed (
    run_id bigint NOT NULL,
    copy_id bigint NOT NULL,
    offload_id bigint NOT NULL,
    came_from_id bigint
);

CREATE TABLE public.offloads_join (
    run_id bigint NOT NULL,
    name character varying(200) NOT NULL,
    files jsonb NOT NULL
);

CREATE TABLE public.offloads_offload (
    run_id bigint NOT NULL,
    take jsonb NOT NULL,
    naming jsonb NOT NULL,
    notes text NOT NULL,
    others jsonb NOT NULL,
    twice boolean NOT NULL,
    estimated_s double precision,
    algorithm character varying(10) NOT NULL,
    read_files integer NOT NULL,
    read_bytes bigint NOT NULL,
    card_id bigint NOT NULL,
    reader_id bigint,
    other_stores jsonb,
    targets jsonb NOT NULL,
    card_errors integer NOT NULL,
    CONSTRAINT offloads_offload_card_errors_check CHECK ((card_errors >= 0)),
    CONSTRAINT offloads_offload_read_files_check CHECK ((read_files >= 0))
);

CREATE TABLE public.offloads_offloadfinding (
    id bigint NOT NULL,
    path text NOT NULL,
    reason text NOT NULL,
    offload_id bigint NOT NULL,
    store_id bigint
);
ALTER TABLE public.offloads_offloadfinding ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.offloads_offloadfinding_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.offloads_pullseen (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    offload_id bigint NOT NULL,
    person_id bigint NOT NULL
);
ALTER TABLE public.offloads_pullseen ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.offloads_pullseen_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.offloads_rollmemory (
    id bigint NOT NULL,
    key bytea NOT NULL,
    at timestamp with time zone NOT NULL,
    roll_id bigint NOT NULL
);
ALTER TABLE public.offloads_rollmemory ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.offloads_rollmemory_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.otp_totp_totpdevice (
    id integer NOT NULL,
    name character varying(64) NOT NULL,
    confirmed boolean NOT NULL,
    key character varying(80) NOT NULL,
    step smallint NOT NULL,
    t0 bigint NOT NULL,
    digits smallint NOT NULL,
    tolerance smallint NOT NULL,
    drift smallint NOT NULL,
    last_t bigint NOT NULL,
    user_id bigint NOT NULL,
    throttling_failure_count integer NOT NULL,
    throttling_failure_timestamp timestamp with time zone,
    created_at timestamp with time zone,
    last_used_at timestamp with time zone,
    CONSTRAINT otp_totp_totpdevice_digits_check CHECK ((digits >= 0)),
    CONSTRAINT otp_totp_totpdevice_step_check CHECK ((step >= 0)),
    CONSTRAINT otp_totp_totpdevice_throttling_failure_count_check CHECK ((throttling_failure_count >= 0)),
    CONSTRAINT otp_totp_totpdevice_tolerance_check CHECK ((tolerance >= 0))
);
ALTER TABLE public.otp_totp_totpdevice ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.otp_totp_totpdevice_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.pictures_decodingasked (
    roll_id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    by_id bigint NOT NULL
);

CREATE TABLE public.pictures_filedecoded (
    file_id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    frames bigint NOT NULL,
    breaks jsonb NOT NULL,
    in_all integer NOT NULL,
    reached_s double precision NOT NULL,
    note character varying(200) NOT NULL,
    copy_id bigint NOT NULL
);

CREATE TABLE public.pictures_fileseen (
    file_id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    note character varying(200) NOT NULL,
    light_at timestamp with time zone,
    light_note character varying(200) NOT NULL
);

CREATE TABLE public.pictures_parcel (
    digest character varying(64) NOT NULL,
    data bytea NOT NULL
);

CREATE TABLE public.pictures_picture (
    id bigint NOT NULL,
    kind character varying(8) NOT NULL,
    digest character varying(64) NOT NULL,
    size integer NOT NULL,
    at timestamp with time zone NOT NULL,
    shown_on date,
    file_id bigint NOT NULL
);
ALTER TABLE public.pictures_picture ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.pictures_picture_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.pictures_rollseen (
    roll_id bigint NOT NULL,
    content bigint NOT NULL
);

CREATE TABLE public.procrastinate_events (
    id bigint NOT NULL,
    job_id bigint NOT NULL,
    type public.procrastinate_job_event_type,
    at timestamp with time zone DEFAULT now()
);
CREATE SEQUENCE public.procrastinate_events_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.procrastinate_events_id_seq OWNED BY public.procrastinate_events.id;
CREATE SEQUENCE public.procrastinate_jobs_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.procrastinate_jobs_id_seq OWNED BY public.procrastinate_jobs.id;

CREATE TABLE public.procrastinate_periodic_defers (
    id bigint NOT NULL,
    task_name character varying(128) NOT NULL,
    defer_timestamp bigint,
    job_id bigint,
    periodic_id character varying(128) DEFAULT ''::character varying NOT NULL
);
CREATE SEQUENCE public.procrastinate_periodic_defers_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.procrastinate_periodic_defers_id_seq OWNED BY public.procrastinate_periodic_defers.id;

CREATE TABLE public.procrastinate_workers (
    id bigint NOT NULL,
    last_heartbeat timestamp with time zone DEFAULT now() NOT NULL
);
ALTER TABLE public.procrastinate_workers ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.procrastinate_workers_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.productions_camera (
    id bigint NOT NULL,
    letter character varying(4) NOT NULL,
    name character varying(80) NOT NULL,
    kind character varying(40) NOT NULL,
    plan_id bigint NOT NULL,
    production_id bigint NOT NULL,
    clock jsonb NOT NULL
);
ALTER TABLE public.productions_camera ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.productions_camera_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.productions_plan (
    id bigint NOT NULL,
    name character varying(80) NOT NULL,
    folder_template character varying(300) NOT NULL,
    algorithm character varying(10) NOT NULL,
    more_algorithms jsonb NOT NULL,
    read_twice boolean NOT NULL,
    names_template character varying(300) NOT NULL,
    names_start integer NOT NULL,
    mend_names boolean NOT NULL,
    job character varying(80) NOT NULL,
    fleet character varying(80) NOT NULL,
    text character varying(80) NOT NULL,
    sidecars boolean NOT NULL,
    creator character varying(200) NOT NULL,
    rights character varying(300) NOT NULL,
    keywords jsonb NOT NULL,
    roll_prefix character varying(10) NOT NULL,
    roll_digits smallint NOT NULL,
    roll_start integer NOT NULL,
    production_id bigint NOT NULL,
    release_after boolean NOT NULL,
    decodes_since timestamp with time zone,
    mhl boolean NOT NULL,
    after_program character varying(80) NOT NULL,
    after_since timestamp with time zone,
    CONSTRAINT productions_plan_names_start_check CHECK ((names_start >= 0)),
    CONSTRAINT productions_plan_roll_digits_check CHECK ((roll_digits >= 0)),
    CONSTRAINT productions_plan_roll_start_check CHECK ((roll_start >= 0))
);
ALTER TABLE public.productions_plan ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.productions_plan_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.productions_plan_stores (
    id bigint NOT NULL,
    plan_id bigint NOT NULL,
    store_id bigint NOT NULL
);
ALTER TABLE public.productions_plan_stores ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.productions_plan_stores_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.productions_production (
    id bigint NOT NULL,
    name character varying(80) NOT NULL,
    slug character varying(40) NOT NULL,
    time_zone character varying(60) NOT NULL,
    first_day date NOT NULL,
    day_starts_at smallint NOT NULL,
    closed_at timestamp with time zone,
    removal_allowed boolean NOT NULL,
    uuid uuid NOT NULL,
    CONSTRAINT productions_production_day_starts_at_check CHECK ((day_starts_at >= 0))
);
ALTER TABLE public.productions_production ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.productions_production_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.productions_redundancyrule (
    id bigint NOT NULL,
    copies smallint NOT NULL,
    devices smallint NOT NULL,
    locations smallint NOT NULL,
    offsite smallint NOT NULL,
    media smallint NOT NULL,
    level smallint NOT NULL,
    fresh_days integer,
    signers smallint NOT NULL,
    listing_within_minutes integer,
    looked_within_minutes integer,
    shelf_days integer,
    production_id bigint NOT NULL,
    chosen_only boolean NOT NULL,
    exceptions jsonb NOT NULL,
    keep_doubles boolean NOT NULL,
    looked_at_percent smallint NOT NULL,
    CONSTRAINT productions_redundancyrule_copies_check CHECK ((copies >= 0)),
    CONSTRAINT productions_redundancyrule_devices_check CHECK ((devices >= 0)),
    CONSTRAINT productions_redundancyrule_fresh_days_check CHECK ((fresh_days >= 0)),
    CONSTRAINT productions_redundancyrule_level_check CHECK ((level >= 0)),
    CONSTRAINT productions_redundancyrule_listing_within_minutes_check CHECK ((listing_within_minutes >= 0)),
    CONSTRAINT productions_redundancyrule_locations_check CHECK ((locations >= 0)),
    CONSTRAINT productions_redundancyrule_looked_at_percent_check CHECK ((looked_at_percent >= 0)),
    CONSTRAINT productions_redundancyrule_looked_within_minutes_check CHECK ((looked_within_minutes >= 0)),
    CONSTRAINT productions_redundancyrule_media_check CHECK ((media >= 0)),
    CONSTRAINT productions_redundancyrule_offsite_check CHECK ((offsite >= 0)),
    CONSTRAINT productions_redundancyrule_shelf_days_check CHECK ((shelf_days >= 0)),
    CONSTRAINT productions_redundancyrule_signers_check CHECK ((signers >= 0))
);
ALTER TABLE public.productions_redundancyrule ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.productions_redundancyrule_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.productions_rig (
    id bigint NOT NULL,
    name character varying(80) NOT NULL,
    first_shot integer NOT NULL,
    production_id bigint NOT NULL,
    CONSTRAINT productions_rig_first_shot_check CHECK ((first_shot >= 0))
);

CREATE TABLE public.productions_rig_cameras (
    id bigint NOT NULL,
    rig_id bigint NOT NULL,
    camera_id bigint NOT NULL
);
ALTER TABLE public.productions_rig_cameras ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.productions_rig_cameras_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);
ALTER TABLE public.productions_rig ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.productions_rig_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.productions_rulechange (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    reason character varying(300) NOT NULL,
    rule jsonb NOT NULL,
    person_id bigint NOT NULL,
    production_id bigint NOT NULL
);
ALTER TABLE public.productions_rulechange ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.productions_rulechange_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.productions_unitaway (
    id bigint NOT NULL,
    name character varying(40) NOT NULL,
    uuid uuid NOT NULL,
    here boolean NOT NULL,
    numbers jsonb NOT NULL,
    at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    by_id bigint NOT NULL,
    production_id bigint NOT NULL
);
ALTER TABLE public.productions_unitaway ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.productions_unitaway_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.returning_folderlook (
    id bigint NOT NULL,
    asked_at timestamp with time zone NOT NULL,
    finished_at timestamp with time zone,
    trouble character varying(300) NOT NULL,
    by_content boolean NOT NULL,
    read bigint NOT NULL,
    read_at timestamp with time zone,
    folder text NOT NULL,
    list_name character varying(200) NOT NULL,
    listed jsonb NOT NULL,
    expected integer NOT NULL,
    same integer NOT NULL,
    cached integer NOT NULL,
    stands_on jsonb NOT NULL,
    person_id bigint NOT NULL,
    production_id bigint NOT NULL,
    station_id bigint NOT NULL,
    stopped_by_id bigint,
    CONSTRAINT returning_folderlook_cached_check CHECK ((cached >= 0)),
    CONSTRAINT returning_folderlook_expected_check CHECK ((expected >= 0)),
    CONSTRAINT returning_folderlook_same_check CHECK ((same >= 0))
);
ALTER TABLE public.returning_folderlook ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.returning_folderlook_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.returning_folderrow (
    id bigint NOT NULL,
    n integer NOT NULL,
    kind character varying(16) NOT NULL,
    path text NOT NULL,
    size bigint NOT NULL,
    elsewhere text NOT NULL,
    reason text NOT NULL,
    file_id bigint,
    look_id bigint NOT NULL,
    CONSTRAINT returning_folderrow_n_check CHECK ((n >= 0))
);
ALTER TABLE public.returning_folderrow ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.returning_folderrow_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.returning_makingofcopies (
    run_id bigint NOT NULL,
    folder text NOT NULL,
    codec character varying(16) NOT NULL,
    height integer NOT NULL,
    burn_in boolean NOT NULL,
    files jsonb NOT NULL,
    made jsonb NOT NULL,
    CONSTRAINT returning_makingofcopies_height_check CHECK ((height >= 0))
);

CREATE TABLE public.returning_return (
    run_id bigint NOT NULL,
    folder text NOT NULL,
    files jsonb NOT NULL,
    back jsonb NOT NULL,
    aside boolean NOT NULL,
    stands_on jsonb NOT NULL,
    system_disk_reason character varying(300) NOT NULL,
    moved jsonb NOT NULL,
    bag boolean NOT NULL,
    beside jsonb NOT NULL
);

CREATE TABLE public.returning_takeaway (
    run_id bigint NOT NULL,
    folder text NOT NULL,
    name character varying(60) NOT NULL,
    words boolean NOT NULL
);

CREATE TABLE public.rolls_besidecopy (
    id bigint NOT NULL,
    path text NOT NULL,
    sha256 character varying(64) NOT NULL,
    copy_id bigint NOT NULL
);
ALTER TABLE public.rolls_besidecopy ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_besidecopy_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_clipopening (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    file_id bigint NOT NULL,
    person_id bigint NOT NULL,
    roll_id bigint NOT NULL
);
ALTER TABLE public.rolls_clipopening ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_clipopening_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_copy (
    id bigint NOT NULL,
    folder character varying(1000) NOT NULL,
    store_id bigint NOT NULL,
    roll_id bigint NOT NULL,
    left_at timestamp with time zone,
    emptied_at timestamp with time zone,
    thinned_at timestamp with time zone
);
ALTER TABLE public.rolls_copy ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_copy_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_copylook (
    id bigint NOT NULL,
    began_at timestamp with time zone NOT NULL,
    copy_id bigint NOT NULL
);
ALTER TABLE public.rolls_copylook ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_copylook_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_copysummary (
    copy_id bigint NOT NULL,
    version bigint NOT NULL,
    found_after bigint NOT NULL,
    readings integer NOT NULL,
    files integer NOT NULL,
    bytes bigint NOT NULL,
    missing_files integer NOT NULL,
    missing_bytes bigint NOT NULL,
    broken_files integer NOT NULL,
    proven_us bigint[] NOT NULL,
    CONSTRAINT rolls_copysummary_broken_files_check CHECK ((broken_files >= 0)),
    CONSTRAINT rolls_copysummary_files_check CHECK ((files >= 0)),
    CONSTRAINT rolls_copysummary_missing_files_check CHECK ((missing_files >= 0)),
    CONSTRAINT rolls_copysummary_readings_check CHECK ((readings >= 0))
);

CREATE TABLE public.rolls_delivery (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    "to" character varying(120) NOT NULL,
    withdrawn_at timestamp with time zone,
    person_id bigint NOT NULL,
    roll_id bigint NOT NULL,
    withdrawn_by_id bigint
);
ALTER TABLE public.rolls_delivery ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_delivery_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_filemedia (
    file_id bigint NOT NULL,
    media_id bigint NOT NULL
);

CREATE TABLE public.rolls_filename (
    file_id bigint NOT NULL,
    names text NOT NULL,
    roll_id bigint NOT NULL
);

CREATE TABLE public.rolls_leftbehind (
    id bigint NOT NULL,
    path text NOT NULL,
    size bigint NOT NULL,
    modified_ns bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    person_id bigint NOT NULL,
    roll_id bigint NOT NULL,
    take_id bigint NOT NULL
);
ALTER TABLE public.rolls_leftbehind ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_leftbehind_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_reading (
    id bigint NOT NULL,
    origin character varying(10) NOT NULL,
    began_at timestamp with time zone NOT NULL,
    noted_at timestamp with time zone NOT NULL,
    after bigint NOT NULL,
    level smallint NOT NULL,
    all_but boolean NOT NULL,
    until bigint NOT NULL,
    agreed_files integer NOT NULL,
    agreed_bytes bigint NOT NULL,
    copy_id bigint NOT NULL,
    CONSTRAINT rolls_reading_agreed_files_check CHECK ((agreed_files >= 0)),
    CONSTRAINT rolls_reading_level_check CHECK ((level >= 0))
);
ALTER TABLE public.rolls_reading ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_reading_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_readingresult (
    id bigint NOT NULL,
    result character varying(10) NOT NULL,
    reason text NOT NULL,
    modified_ns bigint,
    file_id bigint NOT NULL,
    reading_id bigint NOT NULL
);
ALTER TABLE public.rolls_readingresult ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_readingresult_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_roll (
    id bigint NOT NULL,
    number integer NOT NULL,
    tag character varying(20) NOT NULL,
    shoot_day date NOT NULL,
    opened_at timestamp with time zone NOT NULL,
    algorithm character varying(10) NOT NULL,
    fs_serial character varying(80) NOT NULL,
    version bigint NOT NULL,
    content bigint NOT NULL,
    camera_id bigint NOT NULL,
    card_id bigint NOT NULL,
    production_id bigint NOT NULL,
    double_of_id bigint,
    CONSTRAINT rolls_roll_number_check CHECK ((number >= 0))
);
ALTER TABLE public.rolls_roll ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_roll_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_rollfile (
    id bigint NOT NULL,
    path text NOT NULL,
    size bigint NOT NULL,
    modified_ns bigint NOT NULL,
    checksum character varying(128) NOT NULL,
    fingerprint character varying(32) NOT NULL,
    kept_as text NOT NULL,
    others jsonb NOT NULL,
    roll_id bigint NOT NULL,
    take_id bigint NOT NULL,
    is_clip boolean DEFAULT false NOT NULL
);
ALTER TABLE public.rolls_rollfile ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_rollfile_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_rollnamed (
    roll_id bigint NOT NULL,
    content bigint NOT NULL
);

CREATE TABLE public.rolls_rollsummary (
    roll_id bigint NOT NULL,
    version bigint NOT NULL,
    files integer NOT NULL,
    bytes bigint NOT NULL,
    unread integer NOT NULL,
    read_files integer NOT NULL,
    read_bytes bigint NOT NULL,
    waived integer NOT NULL,
    "left" integer NOT NULL,
    clips integer NOT NULL,
    opened integer NOT NULL,
    CONSTRAINT rolls_rollsummary_clips_check CHECK ((clips >= 0)),
    CONSTRAINT rolls_rollsummary_files_check CHECK ((files >= 0)),
    CONSTRAINT rolls_rollsummary_left_check CHECK (("left" >= 0)),
    CONSTRAINT rolls_rollsummary_opened_check CHECK ((opened >= 0)),
    CONSTRAINT rolls_rollsummary_read_files_check CHECK ((read_files >= 0)),
    CONSTRAINT rolls_rollsummary_unread_check CHECK ((unread >= 0)),
    CONSTRAINT rolls_rollsummary_waived_check CHECK ((waived >= 0))
);

CREATE TABLE public.rolls_take (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    listing_id bigint,
    person_id bigint NOT NULL,
    roll_id bigint NOT NULL
);
ALTER TABLE public.rolls_take ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_take_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.rolls_waiver (
    id bigint NOT NULL,
    path text NOT NULL,
    size bigint NOT NULL,
    modified_ns bigint NOT NULL,
    fingerprint character varying(32) NOT NULL,
    reason character varying(300) NOT NULL,
    at timestamp with time zone NOT NULL,
    card_id bigint NOT NULL,
    listing_id bigint NOT NULL,
    person_id bigint NOT NULL,
    roll_id bigint
);
ALTER TABLE public.rolls_waiver ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.rolls_waiver_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.runs_run (
    id bigint NOT NULL,
    kind character varying(12) NOT NULL,
    queue character varying(12) NOT NULL,
    subject character varying(80) NOT NULL,
    rank bigint NOT NULL,
    held_back boolean NOT NULL,
    asked_at timestamp with time zone NOT NULL,
    started_at timestamp with time zone,
    cancel_asked_at timestamp with time zone,
    finished_at timestamp with time zone,
    "end" character varying(12) NOT NULL,
    outcome text NOT NULL,
    person_id bigint NOT NULL,
    roll_id bigint NOT NULL,
    station_id bigint NOT NULL,
    rate bigint
);
ALTER TABLE public.runs_run ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.runs_run_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.sets_mediaset (
    id bigint NOT NULL,
    number integer NOT NULL,
    medium character varying(60) NOT NULL,
    capacity bigint NOT NULL,
    tape boolean NOT NULL,
    at timestamp with time zone NOT NULL,
    by_id bigint NOT NULL,
    production_id bigint NOT NULL,
    CONSTRAINT sets_mediaset_number_check CHECK ((number >= 0))
);
ALTER TABLE public.sets_mediaset ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.sets_mediaset_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.sets_mediavolume (
    id bigint NOT NULL,
    number integer NOT NULL,
    uuid uuid NOT NULL,
    closed_at timestamp with time zone,
    shelf character varying(80) NOT NULL,
    of_id bigint NOT NULL,
    CONSTRAINT sets_mediavolume_number_check CHECK ((number >= 0))
);
ALTER TABLE public.sets_mediavolume ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.sets_mediavolume_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.sets_volumeroll (
    id bigint NOT NULL,
    files bigint[] NOT NULL,
    bytes bigint NOT NULL,
    takes bigint NOT NULL,
    roll_id bigint NOT NULL,
    volume_id bigint NOT NULL
);
ALTER TABLE public.sets_volumeroll ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.sets_volumeroll_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.shifts_handover (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    by_id bigint NOT NULL,
    production_id bigint NOT NULL
);
ALTER TABLE public.shifts_handover ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.shifts_handover_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.shifts_matter (
    id bigint NOT NULL,
    kind character varying(10) NOT NULL,
    subject character varying(120) NOT NULL,
    sentence text NOT NULL,
    accepted_at timestamp with time zone,
    accepted_by_id bigint,
    handover_id bigint NOT NULL
);
ALTER TABLE public.shifts_matter ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.shifts_matter_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.stores_devicestatement (
    id bigint NOT NULL,
    stands_on character varying(80) NOT NULL,
    at timestamp with time zone NOT NULL,
    reason character varying(300) NOT NULL,
    person_id bigint NOT NULL,
    store_id bigint NOT NULL
);
ALTER TABLE public.stores_devicestatement ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.stores_devicestatement_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.stores_ledgerbackup (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    file character varying(200) NOT NULL,
    bytes bigint NOT NULL,
    store_id bigint NOT NULL
);
ALTER TABLE public.stores_ledgerbackup ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.stores_ledgerbackup_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.stores_store (
    id bigint NOT NULL,
    kind character varying(12) NOT NULL,
    uuid uuid NOT NULL,
    name character varying(80) NOT NULL,
    identities jsonb NOT NULL,
    path character varying(1000) NOT NULL,
    file_system character varying(20) NOT NULL,
    reserve bigint NOT NULL,
    landing boolean NOT NULL,
    seals boolean NOT NULL,
    system_disk_reason character varying(300) NOT NULL,
    "position" integer NOT NULL,
    device_id bigint NOT NULL,
    inside character varying(1000) NOT NULL,
    volume character varying(80) NOT NULL,
    keeps_backups boolean NOT NULL,
    address jsonb NOT NULL,
    attests boolean NOT NULL,
    retired_at timestamp with time zone
);
ALTER TABLE public.stores_store ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.stores_store_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.stores_store_productions (
    id bigint NOT NULL,
    store_id bigint NOT NULL,
    production_id bigint NOT NULL
);
ALTER TABLE public.stores_store_productions ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.stores_store_productions_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.stores_storesecret (
    id bigint NOT NULL,
    sealed bytea NOT NULL,
    given_at timestamp with time zone NOT NULL,
    given_by_id bigint NOT NULL,
    store_id bigint NOT NULL
);
ALTER TABLE public.stores_storesecret ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.stores_storesecret_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.stores_storesighting (
    id bigint NOT NULL,
    seen_at timestamp with time zone NOT NULL,
    online boolean NOT NULL,
    trouble character varying(300) NOT NULL,
    free bigint NOT NULL,
    total bigint NOT NULL,
    station_id bigint NOT NULL,
    store_id bigint NOT NULL
);
ALTER TABLE public.stores_storesighting ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.stores_storesighting_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.units_unitentry (
    id bigint NOT NULL,
    number bigint NOT NULL,
    "row" jsonb NOT NULL,
    unit_id bigint NOT NULL
);
ALTER TABLE public.units_unitentry ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.units_unitentry_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.units_unitjoin (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    sha256 character varying(64) NOT NULL,
    rolls integer NOT NULL,
    copies integer NOT NULL,
    conflicts jsonb NOT NULL,
    by_id bigint NOT NULL,
    unit_id bigint NOT NULL,
    CONSTRAINT units_unitjoin_copies_check CHECK ((copies >= 0)),
    CONSTRAINT units_unitjoin_rolls_check CHECK ((rolls >= 0))
);
ALTER TABLE public.units_unitjoin ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.units_unitjoin_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.units_unitrow (
    id bigint NOT NULL,
    kind character varying(12) NOT NULL,
    theirs bigint NOT NULL,
    ours bigint NOT NULL,
    unit_id bigint NOT NULL
);
ALTER TABLE public.units_unitrow ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.units_unitrow_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.units_unitsecret (
    unit_id bigint NOT NULL,
    secret character varying(64) NOT NULL
);

CREATE TABLE public.upkeep_care (
    id bigint NOT NULL,
    begins smallint NOT NULL,
    ends smallint NOT NULL,
    rate bigint,
    at timestamp with time zone NOT NULL,
    check_days smallint,
    mends boolean NOT NULL,
    person_id bigint NOT NULL,
    store_id bigint NOT NULL,
    CONSTRAINT upkeep_care_begins_check CHECK ((begins >= 0)),
    CONSTRAINT upkeep_care_check_days_check CHECK ((check_days >= 0)),
    CONSTRAINT upkeep_care_ends_check CHECK ((ends >= 0))
);
ALTER TABLE public.upkeep_care ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.upkeep_care_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.upkeep_standingorder (
    id bigint NOT NULL,
    begins smallint NOT NULL,
    ends smallint NOT NULL,
    rate bigint,
    at timestamp with time zone NOT NULL,
    withdrawn_at timestamp with time zone,
    from_place_id bigint,
    from_store_id bigint,
    person_id bigint NOT NULL,
    production_id bigint NOT NULL,
    to_store_id bigint NOT NULL,
    withdrawn_by_id bigint,
    CONSTRAINT upkeep_standingorder_begins_check CHECK ((begins >= 0)),
    CONSTRAINT upkeep_standingorder_ends_check CHECK ((ends >= 0))
);
ALTER TABLE public.upkeep_standingorder ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.upkeep_standingorder_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.views_lastlook (
    id bigint NOT NULL,
    at timestamp with time zone NOT NULL,
    states jsonb NOT NULL,
    clearances bigint NOT NULL,
    revocations bigint NOT NULL,
    person_id bigint NOT NULL,
    production_id bigint NOT NULL
);
ALTER TABLE public.views_lastlook ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.views_lastlook_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.views_savedview (
    id bigint NOT NULL,
    name character varying(60) NOT NULL,
    sought jsonb NOT NULL,
    person_id bigint NOT NULL,
    production_id bigint NOT NULL,
    place character varying(10) NOT NULL
);
ALTER TABLE public.views_savedview ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.views_savedview_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);
ALTER TABLE ONLY public.procrastinate_events ALTER COLUMN id SET DEFAULT nextval('public.procrastinate_events_id_seq'::regclass);
ALTER TABLE ONLY public.procrastinate_jobs ALTER COLUMN id SET DEFAULT nextval('public.procrastinate_jobs_id_seq'::regclass);
ALTER TABLE ONLY public.procrastinate_periodic_defers ALTER COLUMN id SET DEFAULT nextval('public.procrastinate_periodic_defers_id_seq'::regclass);
ALTER TABLE ONLY public.rolls_clipopening
    ADD CONSTRAINT a_first_opening_each UNIQUE (file_id, person_id);
ALTER TABLE ONLY public.pictures_picture
    ADD CONSTRAINT a_picture_of_each_kind UNIQUE (file_id, kind);
ALTER TABLE ONLY public.delivering_consignedroll
    ADD CONSTRAINT a_roll_is_consigned_once UNIQUE (consignment_id, roll_id);
ALTER TABLE ONLY public.units_unitrow
    ADD CONSTRAINT a_row_of_a_unit_once UNIQUE (unit_id, kind, theirs);
ALTER TABLE ONLY public.accounts_edition
    ADD CONSTRAINT accounts_edition_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.accounts_paper
    ADD CONSTRAINT accounts_paper_pkey PRIMARY KEY (edition_id);
ALTER TABLE ONLY public.adopting_comparisonrow
    ADD CONSTRAINT adopting_comparisonrow_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.adopting_storecomparison
    ADD CONSTRAINT adopting_storecomparison_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.adopting_storesearch
    ADD CONSTRAINT adopting_storesearch_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.units_unitentry
    ADD CONSTRAINT an_entry_of_a_unit_once UNIQUE (unit_id, number);
ALTER TABLE ONLY public.auth_group
    ADD CONSTRAINT auth_group_name_key UNIQUE (name);
ALTER TABLE ONLY public.auth_group_permissions
    ADD CONSTRAINT auth_group_permissions_group_id_permission_id_0cd325b0_uniq UNIQUE (group_id, permission_id);
ALTER TABLE ONLY public.auth_group_permissions
    ADD CONSTRAINT auth_group_permissions_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.auth_group
    ADD CONSTRAINT auth_group_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.auth_permission
    ADD CONSTRAINT auth_permission_content_type_id_codename_01ab375a_uniq UNIQUE (content_type_id, codename);
ALTER TABLE ONLY public.auth_permission
    ADD CONSTRAINT auth_permission_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.axes_accessattempt
    ADD CONSTRAINT axes_accessattempt_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.axes_accessattempt
    ADD CONSTRAINT axes_accessattempt_username_ip_address_user_agent_8ea22282_uniq UNIQUE (username, ip_address, user_agent);
ALTER TABLE ONLY public.axes_accessattemptexpiration
    ADD CONSTRAINT axes_accessattemptexpiration_pkey PRIMARY KEY (access_attempt_id);
ALTER TABLE ONLY public.axes_accessfailurelog
    ADD CONSTRAINT axes_accessfailurelog_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.axes_accesslog
    ADD CONSTRAINT axes_accesslog_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.productions_camera
    ADD CONSTRAINT camera_letter_once UNIQUE (production_id, letter);
ALTER TABLE ONLY public.camera_reports_camerareport
    ADD CONSTRAINT camera_reports_camerareport_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.camera_reports_reportcolumns
    ADD CONSTRAINT camera_reports_reportcolumns_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.camera_reports_reportcolumns
    ADD CONSTRAINT camera_reports_reportcolumns_production_id_key UNIQUE (production_id);
ALTER TABLE ONLY public.camera_reports_reportedline
    ADD CONSTRAINT camera_reports_reportedline_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_cardserial
    ADD CONSTRAINT card_serial_once UNIQUE (card_id, serial);
ALTER TABLE ONLY public.certificates_signingkey
    ADD CONSTRAINT certificates_signingkey_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.checks_checkrun
    ADD CONSTRAINT checks_checkrun_pkey PRIMARY KEY (run_id);
ALTER TABLE ONLY public.choosing_mark
    ADD CONSTRAINT choosing_mark_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_cardsummary
    ADD CONSTRAINT clearing_cardsummary_pkey PRIMARY KEY (card_id);
ALTER TABLE ONLY public.clearing_clearance
    ADD CONSTRAINT clearing_clearance_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_clearance_rolls
    ADD CONSTRAINT clearing_clearance_rolls_clearance_id_roll_id_9372deee_uniq UNIQUE (clearance_id, roll_id);
ALTER TABLE ONLY public.clearing_clearance_rolls
    ADD CONSTRAINT clearing_clearance_rolls_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_clearedelsewhere_rolls
    ADD CONSTRAINT clearing_clearedelsewher_clearedelsewhere_id_roll_b104a7f7_uniq UNIQUE (clearedelsewhere_id, roll_id);
ALTER TABLE ONLY public.clearing_clearedelsewhere
    ADD CONSTRAINT clearing_clearedelsewhere_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_clearedelsewhere_rolls
    ADD CONSTRAINT clearing_clearedelsewhere_rolls_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_handedback
    ADD CONSTRAINT clearing_handedback_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_hold
    ADD CONSTRAINT clearing_hold_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_removal
    ADD CONSTRAINT clearing_removal_pkey PRIMARY KEY (run_id);
ALTER TABLE ONLY public.clearing_removalasked
    ADD CONSTRAINT clearing_removalasked_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_removedfile
    ADD CONSTRAINT clearing_removedfile_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_revocation
    ADD CONSTRAINT clearing_revocation_clearance_id_key UNIQUE (clearance_id);
ALTER TABLE ONLY public.clearing_revocation
    ADD CONSTRAINT clearing_revocation_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_signature
    ADD CONSTRAINT clearing_signature_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_signingasked
    ADD CONSTRAINT clearing_signingasked_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.adopting_comparisonrow
    ADD CONSTRAINT comparison_row_once UNIQUE (comparison_id, n);
ALTER TABLE ONLY public.rolls_copy
    ADD CONSTRAINT copy_once UNIQUE (roll_id, store_id);
ALTER TABLE ONLY public.crew_invitation
    ADD CONSTRAINT crew_invitation_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.crew_invitation
    ADD CONSTRAINT crew_invitation_secret_key UNIQUE (secret);
ALTER TABLE ONLY public.crew_membership
    ADD CONSTRAINT crew_membership_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.crew_person_groups
    ADD CONSTRAINT crew_person_groups_person_id_group_id_4cb7d8e1_uniq UNIQUE (person_id, group_id);
ALTER TABLE ONLY public.crew_person_groups
    ADD CONSTRAINT crew_person_groups_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.crew_person
    ADD CONSTRAINT crew_person_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.crew_person_user_permissions
    ADD CONSTRAINT crew_person_user_permiss_person_id_permission_id_d323e8c0_uniq UNIQUE (person_id, permission_id);
ALTER TABLE ONLY public.crew_person_user_permissions
    ADD CONSTRAINT crew_person_user_permissions_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.crew_person
    ADD CONSTRAINT crew_person_username_key UNIQUE (username);
ALTER TABLE ONLY public.crew_pin
    ADD CONSTRAINT crew_pin_person_id_key UNIQUE (person_id);
ALTER TABLE ONLY public.crew_pin
    ADD CONSTRAINT crew_pin_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.crew_pintry
    ADD CONSTRAINT crew_pintry_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.crew_sharedscreen
    ADD CONSTRAINT crew_sharedscreen_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.crew_sharedscreen
    ADD CONSTRAINT crew_sharedscreen_secret_key UNIQUE (secret);
ALTER TABLE ONLY public.days_frozenday
    ADD CONSTRAINT days_frozenday_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.days_rollmaterial
    ADD CONSTRAINT days_rollmaterial_pkey PRIMARY KEY (roll_id);
ALTER TABLE ONLY public.delivering_clientlink
    ADD CONSTRAINT delivering_clientlink_consignment_id_key UNIQUE (consignment_id);
ALTER TABLE ONLY public.delivering_clientlink
    ADD CONSTRAINT delivering_clientlink_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.delivering_clientlink
    ADD CONSTRAINT delivering_clientlink_secret_key UNIQUE (secret);
ALTER TABLE ONLY public.delivering_consignedroll
    ADD CONSTRAINT delivering_consignedroll_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.delivering_consignment
    ADD CONSTRAINT delivering_consignment_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.delivering_emblem
    ADD CONSTRAINT delivering_emblem_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.delivering_emblem
    ADD CONSTRAINT delivering_emblem_production_id_key UNIQUE (production_id);
ALTER TABLE ONLY public.delivering_fetched
    ADD CONSTRAINT delivering_fetched_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.delivering_passwordtry
    ADD CONSTRAINT delivering_passwordtry_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.delivering_receipt
    ADD CONSTRAINT delivering_receipt_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.django_content_type
    ADD CONSTRAINT django_content_type_app_label_model_76bd3d3b_uniq UNIQUE (app_label, model);
ALTER TABLE ONLY public.django_content_type
    ADD CONSTRAINT django_content_type_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.django_migrations
    ADD CONSTRAINT django_migrations_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.django_session
    ADD CONSTRAINT django_session_pkey PRIMARY KEY (session_key);
ALTER TABLE ONLY public.accounts_edition
    ADD CONSTRAINT edition_number_once UNIQUE (production_id, "on", about, number);
ALTER TABLE ONLY public.returning_folderrow
    ADD CONSTRAINT folder_row_once UNIQUE (look_id, n);
ALTER TABLE ONLY public.footage_gear
    ADD CONSTRAINT footage_gear_name_key UNIQUE (name);
ALTER TABLE ONLY public.footage_gear
    ADD CONSTRAINT footage_gear_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.footage_media
    ADD CONSTRAINT footage_media_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_card
    ADD CONSTRAINT intake_card_label_key UNIQUE (label);
ALTER TABLE ONLY public.intake_card
    ADD CONSTRAINT intake_card_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_cardaside
    ADD CONSTRAINT intake_cardaside_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_cardlisting
    ADD CONSTRAINT intake_cardlisting_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_cardserial
    ADD CONSTRAINT intake_cardserial_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_cardtrusted
    ADD CONSTRAINT intake_cardtrusted_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_entrymedia
    ADD CONSTRAINT intake_entrymedia_pkey PRIMARY KEY (entry_id);
ALTER TABLE ONLY public.intake_errand
    ADD CONSTRAINT intake_errand_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_folderreader
    ADD CONSTRAINT intake_folderreader_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_goneanswer
    ADD CONSTRAINT intake_goneanswer_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_gonefile
    ADD CONSTRAINT intake_gonefile_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_insertion
    ADD CONSTRAINT intake_insertion_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_listedentry
    ADD CONSTRAINT intake_listedentry_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_notours
    ADD CONSTRAINT intake_notours_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_olderfingerprints
    ADD CONSTRAINT intake_olderfingerprints_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_reader
    ADD CONSTRAINT intake_reader_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_saidreader
    ADD CONSTRAINT intake_saidreader_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.journal_journalentry
    ADD CONSTRAINT journal_journalentry_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.journal_journalentry
    ADD CONSTRAINT journal_journalentry_seal_key UNIQUE (seal);
ALTER TABLE ONLY public.keywords_beside
    ADD CONSTRAINT keywords_beside_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.keywords_described
    ADD CONSTRAINT keywords_described_pkey PRIMARY KEY (file_id);
ALTER TABLE ONLY public.keywords_saying
    ADD CONSTRAINT keywords_saying_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.kit_custody
    ADD CONSTRAINT kit_custody_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.kit_device
    ADD CONSTRAINT kit_device_name_key UNIQUE (name);
ALTER TABLE ONLY public.kit_device
    ADD CONSTRAINT kit_device_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.kit_deviceloss
    ADD CONSTRAINT kit_deviceloss_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.kit_location
    ADD CONSTRAINT kit_location_name_key UNIQUE (name);
ALTER TABLE ONLY public.kit_location
    ADD CONSTRAINT kit_location_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.kit_station
    ADD CONSTRAINT kit_station_name_key UNIQUE (name);
ALTER TABLE ONLY public.kit_station
    ADD CONSTRAINT kit_station_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.kit_stationticket
    ADD CONSTRAINT kit_stationticket_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.kit_stationticket
    ADD CONSTRAINT kit_stationticket_secret_key UNIQUE (secret);
ALTER TABLE ONLY public.live_presence
    ADD CONSTRAINT live_presence_pkey PRIMARY KEY (stream);
ALTER TABLE ONLY public.making_room_makingroom
    ADD CONSTRAINT making_room_makingroom_pkey PRIMARY KEY (run_id);
ALTER TABLE ONLY public.making_room_takenoff
    ADD CONSTRAINT making_room_takenoff_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.sets_mediaset
    ADD CONSTRAINT media_set_number_once UNIQUE (production_id, number);
ALTER TABLE ONLY public.sets_mediavolume
    ADD CONSTRAINT media_volume_number_once UNIQUE (of_id, number);
ALTER TABLE ONLY public.news_hook
    ADD CONSTRAINT news_hook_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.news_news
    ADD CONSTRAINT news_news_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.news_news
    ADD CONSTRAINT news_news_uuid_key UNIQUE (uuid);
ALTER TABLE ONLY public.news_newschoice
    ADD CONSTRAINT news_newschoice_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.news_newsrules
    ADD CONSTRAINT news_newsrules_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.news_newsrules
    ADD CONSTRAINT news_newsrules_production_id_key UNIQUE (production_id);
ALTER TABLE ONLY public.news_sending
    ADD CONSTRAINT news_sending_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.notes_note_mentions
    ADD CONSTRAINT notes_note_mentions_note_id_person_id_7ed06bf8_uniq UNIQUE (note_id, person_id);
ALTER TABLE ONLY public.notes_note_mentions
    ADD CONSTRAINT notes_note_mentions_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.notes_note
    ADD CONSTRAINT notes_note_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.offloads_afterrun
    ADD CONSTRAINT offloads_afterrun_offload_id_key UNIQUE (offload_id);
ALTER TABLE ONLY public.offloads_afterrun
    ADD CONSTRAINT offloads_afterrun_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.offloads_feed
    ADD CONSTRAINT offloads_feed_pkey PRIMARY KEY (run_id);
ALTER TABLE ONLY public.offloads_join
    ADD CONSTRAINT offloads_join_pkey PRIMARY KEY (run_id);
ALTER TABLE ONLY public.offloads_offload
    ADD CONSTRAINT offloads_offload_pkey PRIMARY KEY (run_id);
ALTER TABLE ONLY public.offloads_offloadfinding
    ADD CONSTRAINT offloads_offloadfinding_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.offloads_pullseen
    ADD CONSTRAINT offloads_pullseen_offload_id_key UNIQUE (offload_id);
ALTER TABLE ONLY public.offloads_pullseen
    ADD CONSTRAINT offloads_pullseen_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.offloads_rollmemory
    ADD CONSTRAINT offloads_rollmemory_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.offloads_rollmemory
    ADD CONSTRAINT offloads_rollmemory_roll_id_key UNIQUE (roll_id);
ALTER TABLE ONLY public.keywords_beside
    ADD CONSTRAINT one_beside_each_copy UNIQUE (copy_id, file_id);
ALTER TABLE ONLY public.news_newschoice
    ADD CONSTRAINT one_choice_in_a_production UNIQUE (person_id, production_id);
ALTER TABLE ONLY public.views_lastlook
    ADD CONSTRAINT one_look_in_a_production UNIQUE (person_id, production_id);
ALTER TABLE ONLY public.crew_membership
    ADD CONSTRAINT one_role_in_a_production UNIQUE (person_id, production_id);
ALTER TABLE ONLY public.stores_storesighting
    ADD CONSTRAINT one_sighting_a_store_and_station UNIQUE (store_id, station_id);
ALTER TABLE ONLY public.views_savedview
    ADD CONSTRAINT one_view_of_a_name_each UNIQUE (person_id, production_id, place, name);
ALTER TABLE ONLY public.otp_totp_totpdevice
    ADD CONSTRAINT otp_totp_totpdevice_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.pictures_decodingasked
    ADD CONSTRAINT pictures_decodingasked_pkey PRIMARY KEY (roll_id);
ALTER TABLE ONLY public.pictures_filedecoded
    ADD CONSTRAINT pictures_filedecoded_pkey PRIMARY KEY (file_id);
ALTER TABLE ONLY public.pictures_fileseen
    ADD CONSTRAINT pictures_fileseen_pkey PRIMARY KEY (file_id);
ALTER TABLE ONLY public.pictures_parcel
    ADD CONSTRAINT pictures_parcel_pkey PRIMARY KEY (digest);
ALTER TABLE ONLY public.pictures_picture
    ADD CONSTRAINT pictures_picture_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.pictures_rollseen
    ADD CONSTRAINT pictures_rollseen_pkey PRIMARY KEY (roll_id);
ALTER TABLE ONLY public.productions_plan
    ADD CONSTRAINT plan_name_once UNIQUE (production_id, name);
ALTER TABLE ONLY public.procrastinate_events
    ADD CONSTRAINT procrastinate_events_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.procrastinate_jobs
    ADD CONSTRAINT procrastinate_jobs_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.procrastinate_periodic_defers
    ADD CONSTRAINT procrastinate_periodic_defers_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.procrastinate_periodic_defers
    ADD CONSTRAINT procrastinate_periodic_defers_unique UNIQUE (task_name, periodic_id, defer_timestamp);
ALTER TABLE ONLY public.procrastinate_workers
    ADD CONSTRAINT procrastinate_workers_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.productions_camera
    ADD CONSTRAINT productions_camera_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.productions_plan
    ADD CONSTRAINT productions_plan_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.productions_plan_stores
    ADD CONSTRAINT productions_plan_stores_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.productions_plan_stores
    ADD CONSTRAINT productions_plan_stores_plan_id_store_id_fa458271_uniq UNIQUE (plan_id, store_id);
ALTER TABLE ONLY public.productions_production
    ADD CONSTRAINT productions_production_name_key UNIQUE (name);
ALTER TABLE ONLY public.productions_production
    ADD CONSTRAINT productions_production_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.productions_production
    ADD CONSTRAINT productions_production_slug_key UNIQUE (slug);
ALTER TABLE ONLY public.productions_production
    ADD CONSTRAINT productions_production_uuid_172fc4b1_uniq UNIQUE (uuid);
ALTER TABLE ONLY public.productions_redundancyrule
    ADD CONSTRAINT productions_redundancyrule_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.productions_redundancyrule
    ADD CONSTRAINT productions_redundancyrule_production_id_key UNIQUE (production_id);
ALTER TABLE ONLY public.productions_rig_cameras
    ADD CONSTRAINT productions_rig_cameras_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.productions_rig_cameras
    ADD CONSTRAINT productions_rig_cameras_rig_id_camera_id_1c80483b_uniq UNIQUE (rig_id, camera_id);
ALTER TABLE ONLY public.productions_rig
    ADD CONSTRAINT productions_rig_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.productions_rulechange
    ADD CONSTRAINT productions_rulechange_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.productions_unitaway
    ADD CONSTRAINT productions_unitaway_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.intake_reader
    ADD CONSTRAINT reader_port_once UNIQUE (station_id, port);
ALTER TABLE ONLY public.returning_folderlook
    ADD CONSTRAINT returning_folderlook_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.returning_folderrow
    ADD CONSTRAINT returning_folderrow_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.returning_makingofcopies
    ADD CONSTRAINT returning_makingofcopies_pkey PRIMARY KEY (run_id);
ALTER TABLE ONLY public.returning_return
    ADD CONSTRAINT returning_return_pkey PRIMARY KEY (run_id);
ALTER TABLE ONLY public.returning_takeaway
    ADD CONSTRAINT returning_takeaway_pkey PRIMARY KEY (run_id);
ALTER TABLE ONLY public.productions_rig
    ADD CONSTRAINT rig_name_once UNIQUE (production_id, name);
ALTER TABLE ONLY public.rolls_roll
    ADD CONSTRAINT roll_number_once UNIQUE (camera_id, number);
ALTER TABLE ONLY public.sets_volumeroll
    ADD CONSTRAINT roll_once_on_a_volume UNIQUE (volume_id, roll_id);
ALTER TABLE ONLY public.rolls_roll
    ADD CONSTRAINT roll_tag_once UNIQUE (production_id, tag);
ALTER TABLE ONLY public.rolls_besidecopy
    ADD CONSTRAINT rolls_besidecopy_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_clipopening
    ADD CONSTRAINT rolls_clipopening_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_copy
    ADD CONSTRAINT rolls_copy_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_copylook
    ADD CONSTRAINT rolls_copylook_copy_id_key UNIQUE (copy_id);
ALTER TABLE ONLY public.rolls_copylook
    ADD CONSTRAINT rolls_copylook_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_copysummary
    ADD CONSTRAINT rolls_copysummary_pkey PRIMARY KEY (copy_id);
ALTER TABLE ONLY public.rolls_delivery
    ADD CONSTRAINT rolls_delivery_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_filemedia
    ADD CONSTRAINT rolls_filemedia_pkey PRIMARY KEY (file_id);
ALTER TABLE ONLY public.rolls_filename
    ADD CONSTRAINT rolls_filename_pkey PRIMARY KEY (file_id);
ALTER TABLE ONLY public.rolls_leftbehind
    ADD CONSTRAINT rolls_leftbehind_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_reading
    ADD CONSTRAINT rolls_reading_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_readingresult
    ADD CONSTRAINT rolls_readingresult_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_roll
    ADD CONSTRAINT rolls_roll_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_rollfile
    ADD CONSTRAINT rolls_rollfile_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_rollnamed
    ADD CONSTRAINT rolls_rollnamed_pkey PRIMARY KEY (roll_id);
ALTER TABLE ONLY public.rolls_rollsummary
    ADD CONSTRAINT rolls_rollsummary_pkey PRIMARY KEY (roll_id);
ALTER TABLE ONLY public.rolls_take
    ADD CONSTRAINT rolls_take_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.rolls_waiver
    ADD CONSTRAINT rolls_waiver_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.runs_run
    ADD CONSTRAINT runs_run_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.news_sending
    ADD CONSTRAINT sent_once_to_each UNIQUE NULLS NOT DISTINCT (news_id, person_id, hook_id, escalation);
ALTER TABLE ONLY public.sets_mediaset
    ADD CONSTRAINT sets_mediaset_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.sets_mediavolume
    ADD CONSTRAINT sets_mediavolume_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.sets_mediavolume
    ADD CONSTRAINT sets_mediavolume_uuid_key UNIQUE (uuid);
ALTER TABLE ONLY public.sets_volumeroll
    ADD CONSTRAINT sets_volumeroll_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.shifts_handover
    ADD CONSTRAINT shifts_handover_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.shifts_matter
    ADD CONSTRAINT shifts_matter_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.clearing_signature
    ADD CONSTRAINT sign_once_a_clearance UNIQUE NULLS NOT DISTINCT (roll_id, person_id, digest, revocation_id);
ALTER TABLE ONLY public.stores_devicestatement
    ADD CONSTRAINT stores_devicestatement_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.stores_ledgerbackup
    ADD CONSTRAINT stores_ledgerbackup_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.stores_store
    ADD CONSTRAINT stores_store_name_key UNIQUE (name);
ALTER TABLE ONLY public.stores_store
    ADD CONSTRAINT stores_store_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.stores_store_productions
    ADD CONSTRAINT stores_store_productions_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.stores_store_productions
    ADD CONSTRAINT stores_store_productions_store_id_production_id_783d5623_uniq UNIQUE (store_id, production_id);
ALTER TABLE ONLY public.stores_store
    ADD CONSTRAINT stores_store_uuid_key UNIQUE (uuid);
ALTER TABLE ONLY public.stores_storesecret
    ADD CONSTRAINT stores_storesecret_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.stores_storesecret
    ADD CONSTRAINT stores_storesecret_store_id_key UNIQUE (store_id);
ALTER TABLE ONLY public.stores_storesighting
    ADD CONSTRAINT stores_storesighting_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.making_room_takenoff
    ADD CONSTRAINT taken_off_once UNIQUE (run_id, file_id);
ALTER TABLE ONLY public.productions_unitaway
    ADD CONSTRAINT unit_name_once UNIQUE (production_id, name);
ALTER TABLE ONLY public.productions_unitaway
    ADD CONSTRAINT unit_once UNIQUE (production_id, uuid);
ALTER TABLE ONLY public.units_unitentry
    ADD CONSTRAINT units_unitentry_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.units_unitjoin
    ADD CONSTRAINT units_unitjoin_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.units_unitrow
    ADD CONSTRAINT units_unitrow_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.units_unitsecret
    ADD CONSTRAINT units_unitsecret_pkey PRIMARY KEY (unit_id);
ALTER TABLE ONLY public.upkeep_care
    ADD CONSTRAINT upkeep_care_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.upkeep_care
    ADD CONSTRAINT upkeep_care_store_id_key UNIQUE (store_id);
ALTER TABLE ONLY public.upkeep_standingorder
    ADD CONSTRAINT upkeep_standingorder_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.views_lastlook
    ADD CONSTRAINT views_lastlook_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.views_savedview
    ADD CONSTRAINT views_savedview_pkey PRIMARY KEY (id);
CREATE UNIQUE INDEX a_card_is_in_one_reader_at_a_time ON public.intake_insertion USING btree (card_id) WHERE (removed_at IS NULL);
CREATE UNIQUE INDEX a_report_counts_once ON public.camera_reports_camerareport USING btree (production_id, sha256) WHERE (withdrawn_at IS NULL);
CREATE INDEX accounts_edition_by_id_73eeda08 ON public.accounts_edition USING btree (by_id);
CREATE INDEX accounts_edition_production_id_9c02396f ON public.accounts_edition USING btree (production_id);
CREATE INDEX adopting_storecomparison_left_id_5ce254d3 ON public.adopting_storecomparison USING btree (left_id);
CREATE INDEX adopting_storecomparison_person_id_aaffec1e ON public.adopting_storecomparison USING btree (person_id);
CREATE INDEX adopting_storecomparison_right_id_8290731d ON public.adopting_storecomparison USING btree (right_id);
CREATE INDEX adopting_storecomparison_station_id_6f4650e8 ON public.adopting_storecomparison USING btree (station_id);
CREATE INDEX adopting_storecomparison_stopped_by_id_a8a6658f ON public.adopting_storecomparison USING btree (stopped_by_id);
CREATE INDEX adopting_storesearch_person_id_ef6af9ec ON public.adopting_storesearch USING btree (person_id);
CREATE INDEX adopting_storesearch_station_id_d55e70fa ON public.adopting_storesearch USING btree (station_id);
CREATE INDEX adopting_storesearch_store_id_55497261 ON public.adopting_storesearch USING btree (store_id);
CREATE INDEX auth_group_name_a6ea08ec_like ON public.auth_group USING btree (name varchar_pattern_ops);
CREATE INDEX auth_group_permissions_group_id_b120cbf9 ON public.auth_group_permissions USING btree (group_id);
CREATE INDEX auth_group_permissions_permission_id_84c5c92e ON public.auth_group_permissions USING btree (permission_id);
CREATE INDEX auth_permission_content_type_id_2f476e4b ON public.auth_permission USING btree (content_type_id);
CREATE INDEX axes_accessattempt_ip_address_10922d9c ON public.axes_accessattempt USING btree (ip_address);
CREATE INDEX axes_accessattempt_user_agent_ad89678b ON public.axes_accessattempt USING btree (user_agent);
CREATE INDEX axes_accessattempt_user_agent_ad89678b_like ON public.axes_accessattempt USING btree (user_agent varchar_pattern_ops);
CREATE INDEX axes_accessattempt_username_3f2d4ca0 ON public.axes_accessattempt USING btree (username);
CREATE INDEX axes_accessattempt_username_3f2d4ca0_like ON public.axes_accessattempt USING btree (username varchar_pattern_ops);
CREATE INDEX axes_accessfailurelog_ip_address_2e9f5a7f ON public.axes_accessfailurelog USING btree (ip_address);
CREATE INDEX axes_accessfailurelog_user_agent_ea145dda ON public.axes_accessfailurelog USING btree (user_agent);
CREATE INDEX axes_accessfailurelog_user_agent_ea145dda_like ON public.axes_accessfailurelog USING btree (user_agent varchar_pattern_ops);
CREATE INDEX axes_accessfailurelog_username_a8b7e8a4 ON public.axes_accessfailurelog USING btree (username);
CREATE INDEX axes_accessfailurelog_username_a8b7e8a4_like ON public.axes_accessfailurelog USING btree (username varchar_pattern_ops);
CREATE INDEX axes_accesslog_ip_address_86b417e5 ON public.axes_accesslog USING btree (ip_address);
CREATE INDEX axes_accesslog_user_agent_0e659004 ON public.axes_accesslog USING btree (user_agent);
CREATE INDEX axes_accesslog_user_agent_0e659004_like ON public.axes_accesslog USING btree (user_agent varchar_pattern_ops);
CREATE INDEX axes_accesslog_username_df93064b ON public.axes_accesslog USING btree (username);
CREATE INDEX axes_accesslog_username_df93064b_like ON public.axes_accesslog USING btree (username varchar_pattern_ops);
CREATE UNIQUE INDEX beside_once ON public.rolls_besidecopy USING btree (copy_id, md5(path));
CREATE INDEX camera_reports_camerareport_by_id_5552351f ON public.camera_reports_camerareport USING btree (by_id);
CREATE INDEX camera_reports_camerareport_production_id_8aa40b0c ON public.camera_reports_camerareport USING btree (production_id);
CREATE INDEX camera_reports_camerareport_withdrawn_by_id_0f2c0033 ON public.camera_reports_camerareport USING btree (withdrawn_by_id);
CREATE INDEX camera_reports_reportedline_report_id_2cde5c3f ON public.camera_reports_reportedline USING btree (report_id);
CREATE UNIQUE INDEX card_is_aside_once ON public.intake_cardaside USING btree (card_id) WHERE (ended_at IS NULL);
CREATE INDEX certificates_signingkey_person_id_5df24ab2 ON public.certificates_signingkey USING btree (person_id);
CREATE INDEX certificates_signingkey_production_id_f7fc0565 ON public.certificates_signingkey USING btree (production_id);
CREATE INDEX checks_checkrun_copy_id_8c641d4e ON public.checks_checkrun USING btree (copy_id);
CREATE INDEX choosing_mark_by_id_c557a2d6 ON public.choosing_mark USING btree (by_id);
CREATE INDEX choosing_mark_file_id_2421299c ON public.choosing_mark USING btree (file_id);
CREATE INDEX choosing_mark_roll_id_a81d4b09 ON public.choosing_mark USING btree (roll_id);
CREATE INDEX choosing_mark_withdrawn_by_id_8d2d08fb ON public.choosing_mark USING btree (withdrawn_by_id);
CREATE INDEX clearing_clearance_card_id_ab86f4be ON public.clearing_clearance USING btree (card_id);
CREATE INDEX clearing_clearance_listing_id_58264926 ON public.clearing_clearance USING btree (listing_id);
CREATE INDEX clearing_clearance_roll_id_f263a3e0 ON public.clearing_clearance USING btree (roll_id);
CREATE INDEX clearing_clearance_rolls_clearance_id_b6a4ba55 ON public.clearing_clearance_rolls USING btree (clearance_id);
CREATE INDEX clearing_clearance_rolls_roll_id_32943629 ON public.clearing_clearance_rolls USING btree (roll_id);
CREATE INDEX clearing_clearedelsewhere_rolls_clearedelsewhere_id_2bc5b491 ON public.clearing_clearedelsewhere_rolls USING btree (clearedelsewhere_id);
CREATE INDEX clearing_clearedelsewhere_rolls_roll_id_6b89da18 ON public.clearing_clearedelsewhere_rolls USING btree (roll_id);
CREATE INDEX clearing_handedback_clearance_id_ac096754 ON public.clearing_handedback USING btree (clearance_id);
CREATE INDEX clearing_handedback_person_id_2777d2dd ON public.clearing_handedback USING btree (person_id);
CREATE INDEX clearing_hold_camera_id_ead7ef03 ON public.clearing_hold USING btree (camera_id);
CREATE INDEX clearing_hold_card_id_43892bad ON public.clearing_hold USING btree (card_id);
CREATE INDEX clearing_hold_lifted_by_id_add38af6 ON public.clearing_hold USING btree (lifted_by_id);
CREATE INDEX clearing_hold_placed_by_id_3af593ba ON public.clearing_hold USING btree (placed_by_id);
CREATE INDEX clearing_hold_roll_id_ee312401 ON public.clearing_hold USING btree (roll_id);
CREATE INDEX clearing_removal_card_id_b843b7c5 ON public.clearing_removal USING btree (card_id);
CREATE INDEX clearing_removal_listing_id_1deb80bb ON public.clearing_removal USING btree (listing_id);
CREATE INDEX clearing_removal_second_id_63a73295 ON public.clearing_removal USING btree (second_id);
CREATE INDEX clearing_removalasked_card_id_4970befb ON public.clearing_removalasked USING btree (card_id);
CREATE INDEX clearing_removalasked_person_id_2629603f ON public.clearing_removalasked USING btree (person_id);
CREATE INDEX clearing_removalasked_removal_id_0c906cd3 ON public.clearing_removalasked USING btree (removal_id);
CREATE INDEX clearing_removedfile_removal_id_bcd8d91e ON public.clearing_removedfile USING btree (removal_id);
CREATE INDEX clearing_removedfile_roll_id_e4647abf ON public.clearing_removedfile USING btree (roll_id);
CREATE INDEX clearing_revocation_listing_id_6711c7d3 ON public.clearing_revocation USING btree (listing_id);
CREATE INDEX clearing_revocation_person_id_ffe0ab25 ON public.clearing_revocation USING btree (person_id);
CREATE INDEX clearing_signature_person_id_d3c3865a ON public.clearing_signature USING btree (person_id);
CREATE INDEX clearing_signature_revocation_id_3488af2a ON public.clearing_signature USING btree (revocation_id);
CREATE INDEX clearing_signature_roll_id_ab835a72 ON public.clearing_signature USING btree (roll_id);
CREATE INDEX clearing_signingasked_card_id_3a235a2e ON public.clearing_signingasked USING btree (card_id);
CREATE INDEX clearing_signingasked_person_id_fff448d2 ON public.clearing_signingasked USING btree (person_id);
CREATE INDEX crew_invitation_by_id_5d6fbaa3 ON public.crew_invitation USING btree (by_id);
CREATE INDEX crew_invitation_person_id_ebd3bcb9 ON public.crew_invitation USING btree (person_id);
CREATE INDEX crew_invitation_production_id_d1dbd648 ON public.crew_invitation USING btree (production_id);
CREATE INDEX crew_invitation_secret_7fc4d8d6_like ON public.crew_invitation USING btree (secret varchar_pattern_ops);
CREATE INDEX crew_membership_person_id_a75cb0d8 ON public.crew_membership USING btree (person_id);
CREATE INDEX crew_membership_production_id_04576c0d ON public.crew_membership USING btree (production_id);
CREATE INDEX crew_person_groups_group_id_f4c58fcc ON public.crew_person_groups USING btree (group_id);
CREATE INDEX crew_person_groups_person_id_e7426dde ON public.crew_person_groups USING btree (person_id);
CREATE INDEX crew_person_user_permissions_permission_id_5bc11163 ON public.crew_person_user_permissions USING btree (permission_id);
CREATE INDEX crew_person_user_permissions_person_id_6558e258 ON public.crew_person_user_permissions USING btree (person_id);
CREATE INDEX crew_person_username_2ae095f6_like ON public.crew_person USING btree (username varchar_pattern_ops);
CREATE INDEX crew_pintry_person_id_f3b45173 ON public.crew_pintry USING btree (person_id);
CREATE INDEX crew_pintry_screen_id_501249c3 ON public.crew_pintry USING btree (screen_id);
CREATE INDEX crew_sharedscreen_by_id_cdc5891e ON public.crew_sharedscreen USING btree (by_id);
CREATE INDEX crew_sharedscreen_production_id_bdc98ee2 ON public.crew_sharedscreen USING btree (production_id);
CREATE INDEX crew_sharedscreen_secret_4408a983_like ON public.crew_sharedscreen USING btree (secret varchar_pattern_ops);
CREATE INDEX days_frozenday_by_id_3345bee2 ON public.days_frozenday USING btree (by_id);
CREATE INDEX days_frozenday_production_id_64b42900 ON public.days_frozenday USING btree (production_id);
CREATE UNIQUE INDEX delivered_once ON public.rolls_delivery USING btree (roll_id) WHERE (withdrawn_at IS NULL);
CREATE INDEX delivering_clientlink_secret_26054f0c_like ON public.delivering_clientlink USING btree (secret varchar_pattern_ops);
CREATE INDEX delivering_consignedroll_consignment_id_46b13262 ON public.delivering_consignedroll USING btree (consignment_id);
CREATE INDEX delivering_consignedroll_edition_id_61df3fe7 ON public.delivering_consignedroll USING btree (edition_id);
CREATE INDEX delivering_consignedroll_roll_id_791e9cbe ON public.delivering_consignedroll USING btree (roll_id);
CREATE INDEX delivering_consignment_by_id_e743780e ON public.delivering_consignment USING btree (by_id);
CREATE INDEX delivering_consignment_production_id_89ea4358 ON public.delivering_consignment USING btree (production_id);
CREATE INDEX delivering_consignment_withdrawn_by_id_8248a551 ON public.delivering_consignment USING btree (withdrawn_by_id);
CREATE INDEX delivering_emblem_by_id_9d0ca8b7 ON public.delivering_emblem USING btree (by_id);
CREATE INDEX delivering_fetched_consignment_id_dd15edaa ON public.delivering_fetched USING btree (consignment_id);
CREATE INDEX delivering_fetched_file_id_001f8b58 ON public.delivering_fetched USING btree (file_id);
CREATE INDEX delivering_passwordtry_link_id_e7016aaa ON public.delivering_passwordtry USING btree (link_id);
CREATE INDEX delivering_receipt_consignment_id_c5055ee4 ON public.delivering_receipt USING btree (consignment_id);
CREATE INDEX delivering_receipt_person_id_819ce4c8 ON public.delivering_receipt USING btree (person_id);
CREATE INDEX django_session_expire_date_a5c62663 ON public.django_session USING btree (expire_date);
CREATE INDEX django_session_session_key_c0390e0f_like ON public.django_session USING btree (session_key varchar_pattern_ops);
CREATE INDEX file_by_name ON public.rolls_filename USING gin (names public.gin_trgm_ops);
CREATE UNIQUE INDEX folder_is_a_reader_once ON public.intake_folderreader USING btree (station_id, path) NULLS NOT DISTINCT WHERE (ended_at IS NULL);
CREATE INDEX footage_gear_name_be94dea5_like ON public.footage_gear USING btree (name text_pattern_ops);
CREATE INDEX footage_media_gear_id_29485eec ON public.footage_media USING btree (gear_id);
CREATE INDEX frozen_days_of_a_day ON public.days_frozenday USING btree (production_id, day);
CREATE INDEX gone_file_by_card ON public.intake_gonefile USING btree (card_id, id);
CREATE INDEX idx_procrastinate_jobs_worker_not_null ON public.procrastinate_jobs USING btree (worker_id) WHERE ((worker_id IS NOT NULL) AND (status = 'doing'::public.procrastinate_job_status));
CREATE INDEX idx_procrastinate_workers_last_heartbeat ON public.procrastinate_workers USING btree (last_heartbeat);
CREATE INDEX intake_card_camera_id_0cebceca ON public.intake_card USING btree (camera_id);
CREATE INDEX intake_card_label_541038ee_like ON public.intake_card USING btree (label varchar_pattern_ops);
CREATE INDEX intake_cardaside_card_id_0fe662ea ON public.intake_cardaside USING btree (card_id);
CREATE INDEX intake_cardaside_ended_by_id_4f022d2c ON public.intake_cardaside USING btree (ended_by_id);
CREATE INDEX intake_cardaside_person_id_981d3aaa ON public.intake_cardaside USING btree (person_id);
CREATE INDEX intake_cardlisting_card_id_378dd64a ON public.intake_cardlisting USING btree (card_id);
CREATE INDEX intake_cardlisting_insertion_id_da8e4ddf ON public.intake_cardlisting USING btree (insertion_id);
CREATE INDEX intake_cardserial_card_id_f639da83 ON public.intake_cardserial USING btree (card_id);
CREATE INDEX intake_cardserial_serial_88287a71 ON public.intake_cardserial USING btree (serial);
CREATE INDEX intake_cardserial_serial_88287a71_like ON public.intake_cardserial USING btree (serial varchar_pattern_ops);
CREATE INDEX intake_cardtrusted_card_id_7830fa27 ON public.intake_cardtrusted USING btree (card_id);
CREATE INDEX intake_cardtrusted_person_id_82593dbf ON public.intake_cardtrusted USING btree (person_id);
CREATE INDEX intake_entrymedia_media_id_e363fd0c ON public.intake_entrymedia USING btree (media_id);
CREATE INDEX intake_errand_person_id_907295d9 ON public.intake_errand USING btree (person_id);
CREATE INDEX intake_errand_station_id_708f8858 ON public.intake_errand USING btree (station_id);
CREATE INDEX intake_folderreader_person_id_fefce701 ON public.intake_folderreader USING btree (person_id);
CREATE INDEX intake_folderreader_station_id_de460449 ON public.intake_folderreader USING btree (station_id);
CREATE INDEX intake_goneanswer_card_id_3776e564 ON public.intake_goneanswer USING btree (card_id);
CREATE INDEX intake_goneanswer_person_id_4941b8b7 ON public.intake_goneanswer USING btree (person_id);
CREATE INDEX intake_gonefile_answer_id_1b439e86 ON public.intake_gonefile USING btree (answer_id);
CREATE INDEX intake_gonefile_card_id_9080d9f3 ON public.intake_gonefile USING btree (card_id);
CREATE INDEX intake_gonefile_missed_id_21eff034 ON public.intake_gonefile USING btree (missed_id);
CREATE INDEX intake_gonefile_seen_id_daa1724c ON public.intake_gonefile USING btree (seen_id);
CREATE INDEX intake_insertion_card_id_ef79297e ON public.intake_insertion USING btree (card_id);
CREATE INDEX intake_insertion_reader_id_9e7fc95a ON public.intake_insertion USING btree (reader_id);
CREATE INDEX intake_listedentry_listing_id_f0a47323 ON public.intake_listedentry USING btree (listing_id);
CREATE INDEX intake_notours_insertion_id_072fd707 ON public.intake_notours USING btree (insertion_id);
CREATE INDEX intake_notours_person_id_3b158929 ON public.intake_notours USING btree (person_id);
CREATE INDEX intake_reader_station_id_7c58ec7b ON public.intake_reader USING btree (station_id);
CREATE INDEX intake_reader_unattended_by_id_d8712592 ON public.intake_reader USING btree (unattended_by_id);
CREATE INDEX intake_reader_unattended_plan_id_b443d75f ON public.intake_reader USING btree (unattended_plan_id);
CREATE INDEX intake_saidreader_person_id_ebf5833c ON public.intake_saidreader USING btree (person_id);
CREATE INDEX intake_saidreader_station_id_47d9e923 ON public.intake_saidreader USING btree (station_id);
CREATE INDEX journal_journalentry_person_id_3d2464ec ON public.journal_journalentry USING btree (person_id);
CREATE INDEX journal_journalentry_seal_d1e539be_like ON public.journal_journalentry USING btree (seal varchar_pattern_ops);
CREATE INDEX keywords_beside_file_id_98164b51 ON public.keywords_beside USING btree (file_id);
CREATE INDEX keywords_described_roll_id_cbfe97ac ON public.keywords_described USING btree (roll_id);
CREATE INDEX keywords_saying_by_id_5dcb4611 ON public.keywords_saying USING btree (by_id);
CREATE INDEX keywords_saying_file_id_ebbf6a85 ON public.keywords_saying USING btree (file_id);
CREATE INDEX keywords_saying_roll_id_53a8eea9 ON public.keywords_saying USING btree (roll_id);
CREATE INDEX keywords_saying_withdrawn_by_id_cde10ed3 ON public.keywords_saying USING btree (withdrawn_by_id);
CREATE INDEX kit_custody_by_id_ff0bd270 ON public.kit_custody USING btree (by_id);
CREATE INDEX kit_custody_card_id_93b43dc0 ON public.kit_custody USING btree (card_id);
CREATE INDEX kit_custody_device_id_91998bfc ON public.kit_custody USING btree (device_id);
CREATE INDEX kit_custody_holder_id_962aa763 ON public.kit_custody USING btree (holder_id);
CREATE INDEX kit_custody_place_id_939f073a ON public.kit_custody USING btree (place_id);
CREATE INDEX kit_device_location_id_574ad1a8 ON public.kit_device USING btree (location_id);
CREATE INDEX kit_device_name_eaaf255d_like ON public.kit_device USING btree (name varchar_pattern_ops);
CREATE INDEX kit_deviceloss_device_id_b81c05e2 ON public.kit_deviceloss USING btree (device_id);
CREATE INDEX kit_deviceloss_found_by_id_caadccf4 ON public.kit_deviceloss USING btree (found_by_id);
CREATE INDEX kit_deviceloss_reported_by_id_43aa3fd2 ON public.kit_deviceloss USING btree (reported_by_id);
CREATE INDEX kit_location_name_d6d192fe_like ON public.kit_location USING btree (name varchar_pattern_ops);
CREATE INDEX kit_station_name_91be1dd5_like ON public.kit_station USING btree (name varchar_pattern_ops);
CREATE INDEX kit_stationticket_by_id_60622f3e ON public.kit_stationticket USING btree (by_id);
CREATE INDEX kit_stationticket_secret_f1a32406_like ON public.kit_stationticket USING btree (secret varchar_pattern_ops);
CREATE UNIQUE INDEX left_behind_once ON public.rolls_leftbehind USING btree (roll_id, md5(path), size, modified_ns);
CREATE INDEX live_presence_person_id_dd4741bf ON public.live_presence USING btree (person_id);
CREATE INDEX making_room_makingroom_copy_id_daed1f65 ON public.making_room_makingroom USING btree (copy_id);
CREATE INDEX making_room_takenoff_file_id_2478d911 ON public.making_room_takenoff USING btree (file_id);
CREATE INDEX mark_by_words ON public.choosing_mark USING gin (to_tsvector('english'::regconfig, COALESCE(words, ''::text)));
CREATE INDEX marks_of_a_roll ON public.choosing_mark USING btree (roll_id, withdrawn_at);
CREATE INDEX news_hook_by_id_1be993d5 ON public.news_hook USING btree (by_id);
CREATE INDEX news_hook_plan_id_e0c5fe0c ON public.news_hook USING btree (plan_id);
CREATE INDEX news_hook_production_id_4e70bccb ON public.news_hook USING btree (production_id);
CREATE INDEX news_news_production_id_034df528 ON public.news_news USING btree (production_id);
CREATE INDEX news_news_seen_by_id_132936f0 ON public.news_news USING btree (seen_by_id);
CREATE INDEX news_newschoice_person_id_5a7d4f12 ON public.news_newschoice USING btree (person_id);
CREATE INDEX news_newschoice_production_id_bd03a397 ON public.news_newschoice USING btree (production_id);
CREATE INDEX news_of_a_production ON public.news_news USING btree (production_id, id DESC);
CREATE INDEX news_sending_hook_id_e7f2162e ON public.news_sending USING btree (hook_id);
CREATE INDEX news_sending_news_id_4626ecb1 ON public.news_sending USING btree (news_id);
CREATE INDEX news_sending_person_id_f8a215ff ON public.news_sending USING btree (person_id);
CREATE UNIQUE INDEX not_ours_is_said_once ON public.intake_notours USING btree (insertion_id) WHERE (withdrawn_at IS NULL);
CREATE INDEX note_by_words ON public.notes_note USING gin (to_tsvector('english'::regconfig, COALESCE(words, ''::text)));
CREATE INDEX notes_note_by_id_dfc54382 ON public.notes_note USING btree (by_id);
CREATE INDEX notes_note_card_id_56d8154f ON public.notes_note USING btree (card_id);
CREATE INDEX notes_note_clip_id_411e1011 ON public.notes_note USING btree (clip_id);
CREATE INDEX notes_note_mentions_note_id_5b6c77f0 ON public.notes_note_mentions USING btree (note_id);
CREATE INDEX notes_note_mentions_person_id_e4f6b4ac ON public.notes_note_mentions USING btree (person_id);
CREATE INDEX notes_note_production_id_e1c62834 ON public.notes_note USING btree (production_id);
CREATE INDEX notes_note_roll_id_61904b16 ON public.notes_note USING btree (roll_id);
CREATE INDEX notes_note_store_id_7d66f67e ON public.notes_note USING btree (store_id);
CREATE INDEX notes_note_withdrawn_by_id_d2402bb8 ON public.notes_note USING btree (withdrawn_by_id);
CREATE INDEX notes_of_a_production ON public.notes_note USING btree (production_id, withdrawn_at);
CREATE UNIQUE INDEX nothing_said_twice ON public.choosing_mark USING btree (file_id, by_id, kind, timecode, words) WHERE (withdrawn_at IS NULL);
CREATE INDEX offloads_feed_came_from_id_ea2032df ON public.offloads_feed USING btree (came_from_id);
CREATE INDEX offloads_feed_copy_id_51098be0 ON public.offloads_feed USING btree (copy_id);
CREATE INDEX offloads_feed_offload_id_83459ee3 ON public.offloads_feed USING btree (offload_id);
CREATE INDEX offloads_offload_card_id_3a038ab0 ON public.offloads_offload USING btree (card_id);
CREATE INDEX offloads_offload_reader_id_c3f78c6a ON public.offloads_offload USING btree (reader_id);
CREATE INDEX offloads_offloadfinding_offload_id_4f77ab61 ON public.offloads_offloadfinding USING btree (offload_id);
CREATE INDEX offloads_offloadfinding_store_id_3e47f336 ON public.offloads_offloadfinding USING btree (store_id);
CREATE INDEX offloads_pullseen_person_id_cc8f20a1 ON public.offloads_pullseen USING btree (person_id);
CREATE UNIQUE INDEX one_card_in_a_reader_at_a_time ON public.intake_insertion USING btree (reader_id) WHERE (removed_at IS NULL);
CREATE UNIQUE INDEX one_open_run_a_subject ON public.runs_run USING btree (subject) WHERE (finished_at IS NULL);
CREATE INDEX open_runs_of_a_station ON public.runs_run USING btree (station_id, rank) WHERE (finished_at IS NULL);
CREATE INDEX otp_totp_totpdevice_user_id_0fb18292 ON public.otp_totp_totpdevice USING btree (user_id);
CREATE INDEX pictures_decodingasked_by_id_c0b48b6d ON public.pictures_decodingasked USING btree (by_id);
CREATE INDEX pictures_filedecoded_copy_id_572934be ON public.pictures_filedecoded USING btree (copy_id);
CREATE INDEX pictures_parcel_digest_44fdd8b9_like ON public.pictures_parcel USING btree (digest varchar_pattern_ops);
CREATE INDEX pictures_picture_digest_09b9bd03 ON public.pictures_picture USING btree (digest);
CREATE INDEX pictures_picture_digest_09b9bd03_like ON public.pictures_picture USING btree (digest varchar_pattern_ops);
CREATE INDEX procrastinate_events_job_id_fkey_v1 ON public.procrastinate_events USING btree (job_id);
CREATE INDEX procrastinate_jobs_id_lock_idx_v1 ON public.procrastinate_jobs USING btree (id, lock) WHERE (status = ANY (ARRAY['todo'::public.procrastinate_job_status, 'doing'::public.procrastinate_job_status]));
CREATE UNIQUE INDEX procrastinate_jobs_lock_idx_v1 ON public.procrastinate_jobs USING btree (lock) WHERE (status = 'doing'::public.procrastinate_job_status);
CREATE INDEX procrastinate_jobs_priority_idx_v1 ON public.procrastinate_jobs USING btree (priority DESC, id) WHERE (status = 'todo'::public.procrastinate_job_status);
CREATE INDEX procrastinate_jobs_queue_name_idx_v1 ON public.procrastinate_jobs USING btree (queue_name);
CREATE UNIQUE INDEX procrastinate_jobs_queueing_lock_idx_v1 ON public.procrastinate_jobs USING btree (queueing_lock) WHERE (status = 'todo'::public.procrastinate_job_status);
CREATE INDEX procrastinate_periodic_defers_job_id_fkey_v1 ON public.procrastinate_periodic_defers USING btree (job_id);
CREATE INDEX productions_camera_plan_id_9dcd8492 ON public.productions_camera USING btree (plan_id);
CREATE INDEX productions_camera_production_id_de973a17 ON public.productions_camera USING btree (production_id);
CREATE INDEX productions_plan_production_id_6d9ef2dc ON public.productions_plan USING btree (production_id);
CREATE INDEX productions_plan_stores_plan_id_cf6d83be ON public.productions_plan_stores USING btree (plan_id);
CREATE INDEX productions_plan_stores_store_id_19870e40 ON public.productions_plan_stores USING btree (store_id);
CREATE INDEX productions_production_name_d5b202eb_like ON public.productions_production USING btree (name varchar_pattern_ops);
CREATE INDEX productions_production_slug_3a84d557_like ON public.productions_production USING btree (slug varchar_pattern_ops);
CREATE INDEX productions_rig_cameras_camera_id_6aeb1455 ON public.productions_rig_cameras USING btree (camera_id);
CREATE INDEX productions_rig_cameras_rig_id_0209027f ON public.productions_rig_cameras USING btree (rig_id);
CREATE INDEX productions_rig_production_id_b92b185b ON public.productions_rig USING btree (production_id);
CREATE INDEX productions_rulechange_person_id_ea41086a ON public.productions_rulechange USING btree (person_id);
CREATE INDEX productions_rulechange_production_id_29db17cb ON public.productions_rulechange USING btree (production_id);
CREATE INDEX productions_unitaway_by_id_64d6f6fc ON public.productions_unitaway USING btree (by_id);
CREATE INDEX productions_unitaway_production_id_c74a73b0 ON public.productions_unitaway USING btree (production_id);
CREATE UNIQUE INDEX reader_is_said_once_a_station ON public.intake_saidreader USING btree (station_id, port) NULLS NOT DISTINCT WHERE (withdrawn_at IS NULL);
CREATE INDEX reported_line_by_words ON public.camera_reports_reportedline USING gin (to_tsvector('english'::regconfig, (((((((COALESCE(clip, ''::character varying))::text || ' '::text) || (COALESCE(scene, ''::character varying))::text) || ' '::text) || (COALESCE(take, ''::character varying))::text) || ' '::text) || COALESCE(remark, ''::text))));
CREATE INDEX returning_folderlook_person_id_af292d9c ON public.returning_folderlook USING btree (person_id);
CREATE INDEX returning_folderlook_production_id_99b8bb3e ON public.returning_folderlook USING btree (production_id);
CREATE INDEX returning_folderlook_station_id_dfc74580 ON public.returning_folderlook USING btree (station_id);
CREATE INDEX returning_folderlook_stopped_by_id_967c09d3 ON public.returning_folderlook USING btree (stopped_by_id);
CREATE INDEX returning_folderrow_file_id_02c4410b ON public.returning_folderrow USING btree (file_id);
CREATE INDEX roll_file_by_checksum ON public.rolls_rollfile USING btree (checksum);
CREATE INDEX roll_file_by_time ON public.rolls_rollfile USING btree (modified_ns, size);
CREATE UNIQUE INDEX roll_file_once ON public.rolls_rollfile USING btree (roll_id, md5(path));
CREATE INDEX rolls_besidecopy_copy_id_6577000a ON public.rolls_besidecopy USING btree (copy_id);
CREATE INDEX rolls_clipopening_file_id_600666bb ON public.rolls_clipopening USING btree (file_id);
CREATE INDEX rolls_clipopening_person_id_1c21d374 ON public.rolls_clipopening USING btree (person_id);
CREATE INDEX rolls_clipopening_roll_id_bbd6722d ON public.rolls_clipopening USING btree (roll_id);
CREATE INDEX rolls_copy_roll_id_f08e9ff9 ON public.rolls_copy USING btree (roll_id);
CREATE INDEX rolls_copy_store_id_ae4b99c8 ON public.rolls_copy USING btree (store_id);
CREATE INDEX rolls_delivery_person_id_1a687e1a ON public.rolls_delivery USING btree (person_id);
CREATE INDEX rolls_delivery_roll_id_08a9b0ef ON public.rolls_delivery USING btree (roll_id);
CREATE INDEX rolls_delivery_withdrawn_by_id_cd2b9d3e ON public.rolls_delivery USING btree (withdrawn_by_id);
CREATE INDEX rolls_filemedia_media_id_7a9c5065 ON public.rolls_filemedia USING btree (media_id);
CREATE INDEX rolls_filename_roll_id_1ed157b2 ON public.rolls_filename USING btree (roll_id);
CREATE INDEX rolls_leftbehind_person_id_369a1df3 ON public.rolls_leftbehind USING btree (person_id);
CREATE INDEX rolls_leftbehind_roll_id_fa6d04da ON public.rolls_leftbehind USING btree (roll_id);
CREATE INDEX rolls_leftbehind_take_id_a69179f8 ON public.rolls_leftbehind USING btree (take_id);
CREATE INDEX rolls_reading_copy_id_a8d064b9 ON public.rolls_reading USING btree (copy_id);
CREATE INDEX rolls_readingresult_file_id_fe426d8a ON public.rolls_readingresult USING btree (file_id);
CREATE INDEX rolls_readingresult_reading_id_4d2ba7f0 ON public.rolls_readingresult USING btree (reading_id);
CREATE INDEX rolls_roll_camera_id_500300c1 ON public.rolls_roll USING btree (camera_id);
CREATE INDEX rolls_roll_card_id_5471ed8b ON public.rolls_roll USING btree (card_id);
CREATE INDEX rolls_roll_double_of_id_91a43f94 ON public.rolls_roll USING btree (double_of_id);
CREATE INDEX rolls_roll_production_id_9da98adc ON public.rolls_roll USING btree (production_id);
CREATE INDEX rolls_take_listing_id_c583b387 ON public.rolls_take USING btree (listing_id);
CREATE INDEX rolls_take_person_id_aef7bf82 ON public.rolls_take USING btree (person_id);
CREATE INDEX rolls_take_roll_id_9823863b ON public.rolls_take USING btree (roll_id);
CREATE INDEX rolls_waiver_card_id_b920f9aa ON public.rolls_waiver USING btree (card_id);
CREATE INDEX rolls_waiver_listing_id_4de0c091 ON public.rolls_waiver USING btree (listing_id);
CREATE INDEX rolls_waiver_person_id_51a0b91c ON public.rolls_waiver USING btree (person_id);
CREATE INDEX rolls_waiver_roll_id_06703fd7 ON public.rolls_waiver USING btree (roll_id);
CREATE INDEX runs_run_person_id_ab609438 ON public.runs_run USING btree (person_id);
CREATE INDEX runs_run_roll_id_65549166 ON public.runs_run USING btree (roll_id);
CREATE INDEX runs_run_station_id_5df49566 ON public.runs_run USING btree (station_id);
CREATE UNIQUE INDEX said_once ON public.keywords_saying USING btree (file_id, what, text) WHERE (withdrawn_at IS NULL);
CREATE INDEX saying_by_words ON public.keywords_saying USING gin (to_tsvector('simple'::regconfig, COALESCE(text, ''::text)));
CREATE INDEX sayings_of_a_roll ON public.keywords_saying USING btree (roll_id, withdrawn_at);
CREATE INDEX sendings_due ON public.news_sending USING btree (due_at) WHERE (due_at IS NOT NULL);
CREATE INDEX sets_mediaset_by_id_a7b4efb5 ON public.sets_mediaset USING btree (by_id);
CREATE INDEX sets_mediaset_production_id_7620cf8c ON public.sets_mediaset USING btree (production_id);
CREATE INDEX sets_mediavolume_of_id_72140d99 ON public.sets_mediavolume USING btree (of_id);
CREATE INDEX sets_volumeroll_roll_id_2d8ff883 ON public.sets_volumeroll USING btree (roll_id);
CREATE INDEX sets_volumeroll_volume_id_8ffc3d8d ON public.sets_volumeroll USING btree (volume_id);
CREATE INDEX shifts_handover_by_id_076d46aa ON public.shifts_handover USING btree (by_id);
CREATE INDEX shifts_handover_production_id_50312998 ON public.shifts_handover USING btree (production_id);
CREATE INDEX shifts_matter_accepted_by_id_d9a3a15b ON public.shifts_matter USING btree (accepted_by_id);
CREATE INDEX shifts_matter_handover_id_29a3e98c ON public.shifts_matter USING btree (handover_id);
CREATE INDEX stores_devicestatement_person_id_56cf4a1c ON public.stores_devicestatement USING btree (person_id);
CREATE INDEX stores_devicestatement_store_id_49d7ca03 ON public.stores_devicestatement USING btree (store_id);
CREATE INDEX stores_ledgerbackup_store_id_de77f477 ON public.stores_ledgerbackup USING btree (store_id);
CREATE INDEX stores_store_device_id_d39c27cc ON public.stores_store USING btree (device_id);
CREATE INDEX stores_store_name_a14c6c66_like ON public.stores_store USING btree (name varchar_pattern_ops);
CREATE INDEX stores_store_productions_production_id_faf784cb ON public.stores_store_productions USING btree (production_id);
CREATE INDEX stores_store_productions_store_id_d24e7866 ON public.stores_store_productions USING btree (store_id);
CREATE INDEX stores_storesecret_given_by_id_dc001c93 ON public.stores_storesecret USING btree (given_by_id);
CREATE INDEX stores_storesighting_station_id_16e09bb1 ON public.stores_storesighting USING btree (station_id);
CREATE INDEX stores_storesighting_store_id_a9eeebcd ON public.stores_storesighting USING btree (store_id);
CREATE UNIQUE INDEX told_once ON public.news_news USING btree (production_id, kind, key) WHERE (over_at IS NULL);
CREATE INDEX tries_of_a_person ON public.crew_pintry USING btree (person_id, at);
CREATE INDEX units_unitentry_unit_id_ac5c1253 ON public.units_unitentry USING btree (unit_id);
CREATE INDEX units_unitjoin_by_id_6149d828 ON public.units_unitjoin USING btree (by_id);
CREATE INDEX units_unitjoin_unit_id_11f53832 ON public.units_unitjoin USING btree (unit_id);
CREATE INDEX units_unitrow_unit_id_52624795 ON public.units_unitrow USING btree (unit_id);
CREATE INDEX upkeep_care_person_id_08b245bd ON public.upkeep_care USING btree (person_id);
CREATE INDEX upkeep_standingorder_from_place_id_6b327c59 ON public.upkeep_standingorder USING btree (from_place_id);
CREATE INDEX upkeep_standingorder_from_store_id_00892be0 ON public.upkeep_standingorder USING btree (from_store_id);
CREATE INDEX upkeep_standingorder_person_id_ab89a21e ON public.upkeep_standingorder USING btree (person_id);
CREATE INDEX upkeep_standingorder_production_id_67395745 ON public.upkeep_standingorder USING btree (production_id);
CREATE INDEX upkeep_standingorder_to_store_id_eaeec4c6 ON public.upkeep_standingorder USING btree (to_store_id);
CREATE INDEX upkeep_standingorder_withdrawn_by_id_925468d7 ON public.upkeep_standingorder USING btree (withdrawn_by_id);
CREATE INDEX views_lastlook_person_id_3b92f7e5 ON public.views_lastlook USING btree (person_id);
CREATE INDEX views_lastlook_production_id_89c61678 ON public.views_lastlook USING btree (production_id);
CREATE INDEX views_savedview_person_id_066d6ff3 ON public.views_savedview USING btree (person_id);
CREATE INDEX views_savedview_production_id_c75c56f4 ON public.views_savedview USING btree (production_id);
CREATE INDEX who_is_here ON public.live_presence USING btree (production, seen_at);
CREATE TRIGGER count_delete AFTER DELETE ON public.rolls_clipopening REFERENCING OLD TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_clipopening();
CREATE TRIGGER count_delete AFTER DELETE ON public.rolls_copy REFERENCING OLD TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_copy();
CREATE TRIGGER count_delete AFTER DELETE ON public.rolls_leftbehind REFERENCING OLD TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_leftbehind();
CREATE TRIGGER count_delete AFTER DELETE ON public.rolls_reading REFERENCING OLD TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_reading();
CREATE TRIGGER count_delete AFTER DELETE ON public.rolls_readingresult REFERENCING OLD TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_readingresult();
CREATE TRIGGER count_delete AFTER DELETE ON public.rolls_rollfile REFERENCING OLD TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_rollfile();
CREATE TRIGGER count_delete AFTER DELETE ON public.rolls_take REFERENCING OLD TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_take();
CREATE TRIGGER count_delete AFTER DELETE ON public.rolls_waiver REFERENCING OLD TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_waiver();
CREATE TRIGGER count_insert AFTER INSERT ON public.rolls_clipopening REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_clipopening();
CREATE TRIGGER count_insert AFTER INSERT ON public.rolls_copy REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_copy();
CREATE TRIGGER count_insert AFTER INSERT ON public.rolls_leftbehind REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_leftbehind();
CREATE TRIGGER count_insert AFTER INSERT ON public.rolls_reading REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_reading();
CREATE TRIGGER count_insert AFTER INSERT ON public.rolls_readingresult REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_readingresult();
CREATE TRIGGER count_insert AFTER INSERT ON public.rolls_rollfile REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_rollfile();
CREATE TRIGGER count_insert AFTER INSERT ON public.rolls_take REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_take();
CREATE TRIGGER count_insert AFTER INSERT ON public.rolls_waiver REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_waiver();
CREATE TRIGGER count_update AFTER UPDATE ON public.rolls_clipopening REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_clipopening();
CREATE TRIGGER count_update AFTER UPDATE ON public.rolls_copy REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_copy();
CREATE TRIGGER count_update AFTER UPDATE ON public.rolls_leftbehind REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_leftbehind();
CREATE TRIGGER count_update AFTER UPDATE ON public.rolls_reading REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_reading();
CREATE TRIGGER count_update AFTER UPDATE ON public.rolls_readingresult REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_readingresult();
CREATE TRIGGER count_update AFTER UPDATE ON public.rolls_rollfile REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_rollfile();
CREATE TRIGGER count_update AFTER UPDATE ON public.rolls_take REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_take();
CREATE TRIGGER count_update AFTER UPDATE ON public.rolls_waiver REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.rolls_count_waiver();
CREATE TRIGGER journal_append_only BEFORE DELETE OR UPDATE ON public.journal_journalentry FOR EACH ROW EXECUTE FUNCTION public.is_append_only();
CREATE CONSTRAINT TRIGGER listing_has_no_names AFTER DELETE ON public.intake_cardlisting DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION public.intake_listing_has_no_names();
CREATE TRIGGER names_have_a_listing AFTER INSERT ON public.intake_listedentry REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION public.intake_names_have_a_listing();
CREATE TRIGGER names_stay BEFORE UPDATE OF listing_id ON public.intake_listedentry FOR EACH ROW WHEN ((old.listing_id IS DISTINCT FROM new.listing_id)) EXECUTE FUNCTION public.intake_names_stay();
CREATE TRIGGER procrastinate_jobs_notify_queue_job_aborted_v1 AFTER UPDATE OF abort_requested ON public.procrastinate_jobs FOR EACH ROW WHEN (((old.abort_requested = false) AND (new.abort_requested = true) AND (new.status = 'doing'::public.procrastinate_job_status))) EXECUTE FUNCTION public.procrastinate_notify_queue_abort_job_v1();
CREATE TRIGGER procrastinate_jobs_notify_queue_job_inserted_v1 AFTER INSERT ON public.procrastinate_jobs FOR EACH ROW WHEN ((new.status = 'todo'::public.procrastinate_job_status)) EXECUTE FUNCTION public.procrastinate_notify_queue_job_inserted_v1();
CREATE TRIGGER procrastinate_trigger_abort_requested_events_v1 AFTER UPDATE OF abort_requested ON public.procrastinate_jobs FOR EACH ROW WHEN ((new.abort_requested = true)) EXECUTE FUNCTION public.procrastinate_trigger_abort_requested_events_procedure_v1();
CREATE TRIGGER procrastinate_trigger_delete_jobs_v1 BEFORE DELETE ON public.procrastinate_jobs FOR EACH ROW EXECUTE FUNCTION public.procrastinate_unlink_periodic_defers_v1();
CREATE TRIGGER procrastinate_trigger_scheduled_events_v1 AFTER INSERT OR UPDATE ON public.procrastinate_jobs FOR EACH ROW WHEN (((new.scheduled_at IS NOT NULL) AND (new.status = 'todo'::public.procrastinate_job_status))) EXECUTE FUNCTION public.procrastinate_trigger_function_scheduled_events_v1();
CREATE TRIGGER procrastinate_trigger_status_events_insert_v1 AFTER INSERT ON public.procrastinate_jobs FOR EACH ROW WHEN ((new.status = 'todo'::public.procrastinate_job_status)) EXECUTE FUNCTION public.procrastinate_trigger_function_status_events_insert_v1();
CREATE TRIGGER procrastinate_trigger_status_events_update_v1 AFTER UPDATE OF status ON public.procrastinate_jobs FOR EACH ROW EXECUTE FUNCTION public.procrastinate_trigger_function_status_events_update_v1();
ALTER TABLE ONLY public.accounts_edition
    ADD CONSTRAINT accounts_edition_by_id_73eeda08_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.accounts_edition
    ADD CONSTRAINT accounts_edition_production_id_9c02396f_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.accounts_paper
    ADD CONSTRAINT accounts_paper_edition_id_707b5e86_fk_accounts_edition_id FOREIGN KEY (edition_id) REFERENCES public.accounts_edition(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.adopting_comparisonrow
    ADD CONSTRAINT adopting_comparisonr_comparison_id_cbb4a22a_fk_adopting_ FOREIGN KEY (comparison_id) REFERENCES public.adopting_storecomparison(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.adopting_storecomparison
    ADD CONSTRAINT adopting_storecompar_stopped_by_id_a8a6658f_fk_crew_pers FOREIGN KEY (stopped_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.adopting_storecomparison
    ADD CONSTRAINT adopting_storecomparison_left_id_5ce254d3_fk_stores_store_id FOREIGN KEY (left_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.adopting_storecomparison
    ADD CONSTRAINT adopting_storecomparison_person_id_aaffec1e_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.adopting_storecomparison
    ADD CONSTRAINT adopting_storecomparison_right_id_8290731d_fk_stores_store_id FOREIGN KEY (right_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.adopting_storecomparison
    ADD CONSTRAINT adopting_storecomparison_station_id_6f4650e8_fk_kit_station_id FOREIGN KEY (station_id) REFERENCES public.kit_station(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.adopting_storesearch
    ADD CONSTRAINT adopting_storesearch_person_id_ef6af9ec_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.adopting_storesearch
    ADD CONSTRAINT adopting_storesearch_station_id_d55e70fa_fk_kit_station_id FOREIGN KEY (station_id) REFERENCES public.kit_station(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.adopting_storesearch
    ADD CONSTRAINT adopting_storesearch_store_id_55497261_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.auth_group_permissions
    ADD CONSTRAINT auth_group_permissio_permission_id_84c5c92e_fk_auth_perm FOREIGN KEY (permission_id) REFERENCES public.auth_permission(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.auth_group_permissions
    ADD CONSTRAINT auth_group_permissions_group_id_b120cbf9_fk_auth_group_id FOREIGN KEY (group_id) REFERENCES public.auth_group(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.auth_permission
    ADD CONSTRAINT auth_permission_content_type_id_2f476e4b_fk_django_co FOREIGN KEY (content_type_id) REFERENCES public.django_content_type(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.axes_accessattemptexpiration
    ADD CONSTRAINT axes_accessattemptex_access_attempt_id_6b73a47a_fk_axes_acce FOREIGN KEY (access_attempt_id) REFERENCES public.axes_accessattempt(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.camera_reports_camerareport
    ADD CONSTRAINT camera_reports_camer_production_id_8aa40b0c_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.camera_reports_camerareport
    ADD CONSTRAINT camera_reports_camer_withdrawn_by_id_0f2c0033_fk_crew_pers FOREIGN KEY (withdrawn_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.camera_reports_camerareport
    ADD CONSTRAINT camera_reports_camerareport_by_id_5552351f_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.camera_reports_reportcolumns
    ADD CONSTRAINT camera_reports_repor_production_id_0433340c_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.camera_reports_reportedline
    ADD CONSTRAINT camera_reports_repor_report_id_2cde5c3f_fk_camera_re FOREIGN KEY (report_id) REFERENCES public.camera_reports_camerareport(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.certificates_signingkey
    ADD CONSTRAINT certificates_signing_production_id_f7fc0565_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.certificates_signingkey
    ADD CONSTRAINT certificates_signingkey_person_id_5df24ab2_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.checks_checkrun
    ADD CONSTRAINT checks_checkrun_copy_id_8c641d4e_fk_rolls_copy_id FOREIGN KEY (copy_id) REFERENCES public.rolls_copy(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.checks_checkrun
    ADD CONSTRAINT checks_checkrun_run_id_41806cd6_fk_runs_run_id FOREIGN KEY (run_id) REFERENCES public.runs_run(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.choosing_mark
    ADD CONSTRAINT choosing_mark_by_id_c557a2d6_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.choosing_mark
    ADD CONSTRAINT choosing_mark_file_id_2421299c_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.choosing_mark
    ADD CONSTRAINT choosing_mark_roll_id_a81d4b09_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.choosing_mark
    ADD CONSTRAINT choosing_mark_withdrawn_by_id_8d2d08fb_fk_crew_person_id FOREIGN KEY (withdrawn_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_cardsummary
    ADD CONSTRAINT clearing_cardsummary_card_id_10ff5697_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_clearance
    ADD CONSTRAINT clearing_clearance_card_id_ab86f4be_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_clearance
    ADD CONSTRAINT clearing_clearance_listing_id_58264926_fk_intake_cardlisting_id FOREIGN KEY (listing_id) REFERENCES public.intake_cardlisting(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_clearance_rolls
    ADD CONSTRAINT clearing_clearance_r_clearance_id_b6a4ba55_fk_clearing_ FOREIGN KEY (clearance_id) REFERENCES public.clearing_clearance(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_clearance
    ADD CONSTRAINT clearing_clearance_roll_id_f263a3e0_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_clearance_rolls
    ADD CONSTRAINT clearing_clearance_rolls_roll_id_32943629_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_clearedelsewhere_rolls
    ADD CONSTRAINT clearing_clearedelse_clearedelsewhere_id_2bc5b491_fk_clearing_ FOREIGN KEY (clearedelsewhere_id) REFERENCES public.clearing_clearedelsewhere(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_clearedelsewhere_rolls
    ADD CONSTRAINT clearing_clearedelse_roll_id_6b89da18_fk_rolls_rol FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_handedback
    ADD CONSTRAINT clearing_handedback_clearance_id_ac096754_fk_clearing_ FOREIGN KEY (clearance_id) REFERENCES public.clearing_clearance(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_handedback
    ADD CONSTRAINT clearing_handedback_person_id_2777d2dd_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_hold
    ADD CONSTRAINT clearing_hold_camera_id_ead7ef03_fk_productions_camera_id FOREIGN KEY (camera_id) REFERENCES public.productions_camera(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_hold
    ADD CONSTRAINT clearing_hold_card_id_43892bad_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_hold
    ADD CONSTRAINT clearing_hold_lifted_by_id_add38af6_fk_crew_person_id FOREIGN KEY (lifted_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_hold
    ADD CONSTRAINT clearing_hold_placed_by_id_3af593ba_fk_crew_person_id FOREIGN KEY (placed_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_hold
    ADD CONSTRAINT clearing_hold_roll_id_ee312401_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_removal
    ADD CONSTRAINT clearing_removal_card_id_b843b7c5_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_removal
    ADD CONSTRAINT clearing_removal_listing_id_1deb80bb_fk_intake_cardlisting_id FOREIGN KEY (listing_id) REFERENCES public.intake_cardlisting(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_removal
    ADD CONSTRAINT clearing_removal_run_id_c35c188a_fk_runs_run_id FOREIGN KEY (run_id) REFERENCES public.runs_run(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_removal
    ADD CONSTRAINT clearing_removal_second_id_63a73295_fk_crew_person_id FOREIGN KEY (second_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_removalasked
    ADD CONSTRAINT clearing_removalaske_removal_id_0c906cd3_fk_clearing_ FOREIGN KEY (removal_id) REFERENCES public.clearing_removal(run_id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_removalasked
    ADD CONSTRAINT clearing_removalasked_card_id_4970befb_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_removalasked
    ADD CONSTRAINT clearing_removalasked_person_id_2629603f_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_removedfile
    ADD CONSTRAINT clearing_removedfile_removal_id_bcd8d91e_fk_clearing_ FOREIGN KEY (removal_id) REFERENCES public.clearing_removal(run_id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_removedfile
    ADD CONSTRAINT clearing_removedfile_roll_id_e4647abf_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_revocation
    ADD CONSTRAINT clearing_revocation_clearance_id_9aa5baf6_fk_clearing_ FOREIGN KEY (clearance_id) REFERENCES public.clearing_clearance(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_revocation
    ADD CONSTRAINT clearing_revocation_listing_id_6711c7d3_fk_intake_ca FOREIGN KEY (listing_id) REFERENCES public.intake_cardlisting(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_revocation
    ADD CONSTRAINT clearing_revocation_person_id_ffe0ab25_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_signature
    ADD CONSTRAINT clearing_signature_person_id_d3c3865a_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_signature
    ADD CONSTRAINT clearing_signature_revocation_id_3488af2a_fk_clearing_ FOREIGN KEY (revocation_id) REFERENCES public.clearing_revocation(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_signature
    ADD CONSTRAINT clearing_signature_roll_id_ab835a72_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_signingasked
    ADD CONSTRAINT clearing_signingasked_card_id_3a235a2e_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.clearing_signingasked
    ADD CONSTRAINT clearing_signingasked_person_id_fff448d2_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_invitation
    ADD CONSTRAINT crew_invitation_by_id_5d6fbaa3_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_invitation
    ADD CONSTRAINT crew_invitation_person_id_ebd3bcb9_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_invitation
    ADD CONSTRAINT crew_invitation_production_id_d1dbd648_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_membership
    ADD CONSTRAINT crew_membership_person_id_a75cb0d8_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_membership
    ADD CONSTRAINT crew_membership_production_id_04576c0d_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_person_groups
    ADD CONSTRAINT crew_person_groups_group_id_f4c58fcc_fk_auth_group_id FOREIGN KEY (group_id) REFERENCES public.auth_group(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_person_groups
    ADD CONSTRAINT crew_person_groups_person_id_e7426dde_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_person_user_permissions
    ADD CONSTRAINT crew_person_user_per_permission_id_5bc11163_fk_auth_perm FOREIGN KEY (permission_id) REFERENCES public.auth_permission(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_person_user_permissions
    ADD CONSTRAINT crew_person_user_per_person_id_6558e258_fk_crew_pers FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_pin
    ADD CONSTRAINT crew_pin_person_id_4ae1375c_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_pintry
    ADD CONSTRAINT crew_pintry_person_id_f3b45173_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_pintry
    ADD CONSTRAINT crew_pintry_screen_id_501249c3_fk_crew_sharedscreen_id FOREIGN KEY (screen_id) REFERENCES public.crew_sharedscreen(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_sharedscreen
    ADD CONSTRAINT crew_sharedscreen_by_id_cdc5891e_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.crew_sharedscreen
    ADD CONSTRAINT crew_sharedscreen_production_id_bdc98ee2_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.days_frozenday
    ADD CONSTRAINT days_frozenday_by_id_3345bee2_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.days_frozenday
    ADD CONSTRAINT days_frozenday_production_id_64b42900_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.days_rollmaterial
    ADD CONSTRAINT days_rollmaterial_roll_id_114dde56_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_clientlink
    ADD CONSTRAINT delivering_clientlin_consignment_id_c909a208_fk_deliverin FOREIGN KEY (consignment_id) REFERENCES public.delivering_consignment(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_consignedroll
    ADD CONSTRAINT delivering_consigned_consignment_id_46b13262_fk_deliverin FOREIGN KEY (consignment_id) REFERENCES public.delivering_consignment(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_consignedroll
    ADD CONSTRAINT delivering_consigned_edition_id_61df3fe7_fk_accounts_ FOREIGN KEY (edition_id) REFERENCES public.accounts_edition(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_consignedroll
    ADD CONSTRAINT delivering_consignedroll_roll_id_791e9cbe_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_consignment
    ADD CONSTRAINT delivering_consignme_production_id_89ea4358_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_consignment
    ADD CONSTRAINT delivering_consignme_withdrawn_by_id_8248a551_fk_crew_pers FOREIGN KEY (withdrawn_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_consignment
    ADD CONSTRAINT delivering_consignment_by_id_e743780e_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_emblem
    ADD CONSTRAINT delivering_emblem_by_id_9d0ca8b7_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_emblem
    ADD CONSTRAINT delivering_emblem_production_id_927c6b10_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_fetched
    ADD CONSTRAINT delivering_fetched_consignment_id_dd15edaa_fk_deliverin FOREIGN KEY (consignment_id) REFERENCES public.delivering_consignment(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_fetched
    ADD CONSTRAINT delivering_fetched_file_id_001f8b58_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_passwordtry
    ADD CONSTRAINT delivering_passwordt_link_id_e7016aaa_fk_deliverin FOREIGN KEY (link_id) REFERENCES public.delivering_clientlink(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_receipt
    ADD CONSTRAINT delivering_receipt_consignment_id_c5055ee4_fk_deliverin FOREIGN KEY (consignment_id) REFERENCES public.delivering_consignment(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.delivering_receipt
    ADD CONSTRAINT delivering_receipt_person_id_819ce4c8_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.footage_media
    ADD CONSTRAINT footage_media_gear_id_29485eec_fk_footage_gear_id FOREIGN KEY (gear_id) REFERENCES public.footage_gear(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_card
    ADD CONSTRAINT intake_card_camera_id_0cebceca_fk_productions_camera_id FOREIGN KEY (camera_id) REFERENCES public.productions_camera(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_cardaside
    ADD CONSTRAINT intake_cardaside_card_id_0fe662ea_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_cardaside
    ADD CONSTRAINT intake_cardaside_ended_by_id_4f022d2c_fk_crew_person_id FOREIGN KEY (ended_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_cardaside
    ADD CONSTRAINT intake_cardaside_person_id_981d3aaa_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_cardlisting
    ADD CONSTRAINT intake_cardlisting_card_id_378dd64a_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_cardlisting
    ADD CONSTRAINT intake_cardlisting_insertion_id_da8e4ddf_fk_intake_insertion_id FOREIGN KEY (insertion_id) REFERENCES public.intake_insertion(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_cardserial
    ADD CONSTRAINT intake_cardserial_card_id_f639da83_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_cardtrusted
    ADD CONSTRAINT intake_cardtrusted_card_id_7830fa27_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_cardtrusted
    ADD CONSTRAINT intake_cardtrusted_person_id_82593dbf_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_entrymedia
    ADD CONSTRAINT intake_entrymedia_entry_id_fac9d9b3_fk_intake_listedentry_id FOREIGN KEY (entry_id) REFERENCES public.intake_listedentry(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_entrymedia
    ADD CONSTRAINT intake_entrymedia_media_id_e363fd0c_fk_footage_media_id FOREIGN KEY (media_id) REFERENCES public.footage_media(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_errand
    ADD CONSTRAINT intake_errand_person_id_907295d9_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_errand
    ADD CONSTRAINT intake_errand_station_id_708f8858_fk_kit_station_id FOREIGN KEY (station_id) REFERENCES public.kit_station(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_folderreader
    ADD CONSTRAINT intake_folderreader_person_id_fefce701_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_folderreader
    ADD CONSTRAINT intake_folderreader_station_id_de460449_fk_kit_station_id FOREIGN KEY (station_id) REFERENCES public.kit_station(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_goneanswer
    ADD CONSTRAINT intake_goneanswer_card_id_3776e564_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_goneanswer
    ADD CONSTRAINT intake_goneanswer_person_id_4941b8b7_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_gonefile
    ADD CONSTRAINT intake_gonefile_answer_id_1b439e86_fk_intake_goneanswer_id FOREIGN KEY (answer_id) REFERENCES public.intake_goneanswer(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_gonefile
    ADD CONSTRAINT intake_gonefile_card_id_9080d9f3_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_gonefile
    ADD CONSTRAINT intake_gonefile_missed_id_21eff034_fk_intake_cardlisting_id FOREIGN KEY (missed_id) REFERENCES public.intake_cardlisting(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_gonefile
    ADD CONSTRAINT intake_gonefile_seen_id_daa1724c_fk_intake_cardlisting_id FOREIGN KEY (seen_id) REFERENCES public.intake_cardlisting(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_insertion
    ADD CONSTRAINT intake_insertion_card_id_ef79297e_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_insertion
    ADD CONSTRAINT intake_insertion_reader_id_9e7fc95a_fk_intake_reader_id FOREIGN KEY (reader_id) REFERENCES public.intake_reader(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_notours
    ADD CONSTRAINT intake_notours_insertion_id_072fd707_fk_intake_insertion_id FOREIGN KEY (insertion_id) REFERENCES public.intake_insertion(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_notours
    ADD CONSTRAINT intake_notours_person_id_3b158929_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_reader
    ADD CONSTRAINT intake_reader_station_id_7c58ec7b_fk_kit_station_id FOREIGN KEY (station_id) REFERENCES public.kit_station(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_reader
    ADD CONSTRAINT intake_reader_unattended_by_id_d8712592_fk_crew_person_id FOREIGN KEY (unattended_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_reader
    ADD CONSTRAINT intake_reader_unattended_plan_id_b443d75f_fk_productio FOREIGN KEY (unattended_plan_id) REFERENCES public.productions_plan(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_saidreader
    ADD CONSTRAINT intake_saidreader_person_id_ebf5833c_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.intake_saidreader
    ADD CONSTRAINT intake_saidreader_station_id_47d9e923_fk_kit_station_id FOREIGN KEY (station_id) REFERENCES public.kit_station(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.journal_journalentry
    ADD CONSTRAINT journal_journalentry_person_id_3d2464ec_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.keywords_beside
    ADD CONSTRAINT keywords_beside_copy_id_2bb08e89_fk_rolls_copy_id FOREIGN KEY (copy_id) REFERENCES public.rolls_copy(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.keywords_beside
    ADD CONSTRAINT keywords_beside_file_id_98164b51_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.keywords_described
    ADD CONSTRAINT keywords_described_file_id_e69e2bd8_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.keywords_described
    ADD CONSTRAINT keywords_described_roll_id_cbfe97ac_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.keywords_saying
    ADD CONSTRAINT keywords_saying_by_id_5dcb4611_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.keywords_saying
    ADD CONSTRAINT keywords_saying_file_id_ebbf6a85_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.keywords_saying
    ADD CONSTRAINT keywords_saying_roll_id_53a8eea9_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.keywords_saying
    ADD CONSTRAINT keywords_saying_withdrawn_by_id_cde10ed3_fk_crew_person_id FOREIGN KEY (withdrawn_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.kit_custody
    ADD CONSTRAINT kit_custody_by_id_ff0bd270_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.kit_custody
    ADD CONSTRAINT kit_custody_card_id_93b43dc0_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.kit_custody
    ADD CONSTRAINT kit_custody_device_id_91998bfc_fk_kit_device_id FOREIGN KEY (device_id) REFERENCES public.kit_device(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.kit_custody
    ADD CONSTRAINT kit_custody_holder_id_962aa763_fk_crew_person_id FOREIGN KEY (holder_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.kit_custody
    ADD CONSTRAINT kit_custody_place_id_939f073a_fk_kit_location_id FOREIGN KEY (place_id) REFERENCES public.kit_location(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.kit_device
    ADD CONSTRAINT kit_device_location_id_574ad1a8_fk_kit_location_id FOREIGN KEY (location_id) REFERENCES public.kit_location(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.kit_deviceloss
    ADD CONSTRAINT kit_deviceloss_device_id_b81c05e2_fk_kit_device_id FOREIGN KEY (device_id) REFERENCES public.kit_device(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.kit_deviceloss
    ADD CONSTRAINT kit_deviceloss_found_by_id_caadccf4_fk_crew_person_id FOREIGN KEY (found_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.kit_deviceloss
    ADD CONSTRAINT kit_deviceloss_reported_by_id_43aa3fd2_fk_crew_person_id FOREIGN KEY (reported_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.kit_stationticket
    ADD CONSTRAINT kit_stationticket_by_id_60622f3e_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.live_presence
    ADD CONSTRAINT live_presence_person_id_dd4741bf_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.making_room_makingroom
    ADD CONSTRAINT making_room_makingroom_copy_id_daed1f65_fk_rolls_copy_id FOREIGN KEY (copy_id) REFERENCES public.rolls_copy(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.making_room_makingroom
    ADD CONSTRAINT making_room_makingroom_run_id_893747e9_fk_runs_run_id FOREIGN KEY (run_id) REFERENCES public.runs_run(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.making_room_takenoff
    ADD CONSTRAINT making_room_takenoff_file_id_2478d911_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.making_room_takenoff
    ADD CONSTRAINT making_room_takenoff_run_id_46b8924a_fk_making_ro FOREIGN KEY (run_id) REFERENCES public.making_room_makingroom(run_id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_hook
    ADD CONSTRAINT news_hook_by_id_1be993d5_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_hook
    ADD CONSTRAINT news_hook_plan_id_e0c5fe0c_fk_productions_plan_id FOREIGN KEY (plan_id) REFERENCES public.productions_plan(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_hook
    ADD CONSTRAINT news_hook_production_id_4e70bccb_fk_productions_production_id FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_news
    ADD CONSTRAINT news_news_production_id_034df528_fk_productions_production_id FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_news
    ADD CONSTRAINT news_news_seen_by_id_132936f0_fk_crew_person_id FOREIGN KEY (seen_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_newschoice
    ADD CONSTRAINT news_newschoice_person_id_5a7d4f12_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_newschoice
    ADD CONSTRAINT news_newschoice_production_id_bd03a397_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_newsrules
    ADD CONSTRAINT news_newsrules_production_id_c5400f90_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_sending
    ADD CONSTRAINT news_sending_hook_id_e7f2162e_fk_news_hook_id FOREIGN KEY (hook_id) REFERENCES public.news_hook(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_sending
    ADD CONSTRAINT news_sending_news_id_4626ecb1_fk_news_news_id FOREIGN KEY (news_id) REFERENCES public.news_news(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.news_sending
    ADD CONSTRAINT news_sending_person_id_f8a215ff_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.notes_note
    ADD CONSTRAINT notes_note_by_id_dfc54382_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.notes_note
    ADD CONSTRAINT notes_note_card_id_56d8154f_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.notes_note
    ADD CONSTRAINT notes_note_clip_id_411e1011_fk_rolls_rollfile_id FOREIGN KEY (clip_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.notes_note_mentions
    ADD CONSTRAINT notes_note_mentions_note_id_5b6c77f0_fk_notes_note_id FOREIGN KEY (note_id) REFERENCES public.notes_note(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.notes_note_mentions
    ADD CONSTRAINT notes_note_mentions_person_id_e4f6b4ac_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.notes_note
    ADD CONSTRAINT notes_note_production_id_e1c62834_fk_productions_production_id FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.notes_note
    ADD CONSTRAINT notes_note_roll_id_61904b16_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.notes_note
    ADD CONSTRAINT notes_note_store_id_7d66f67e_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.notes_note
    ADD CONSTRAINT notes_note_withdrawn_by_id_d2402bb8_fk_crew_person_id FOREIGN KEY (withdrawn_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_afterrun
    ADD CONSTRAINT offloads_afterrun_offload_id_3f1e0cec_fk_offloads_ FOREIGN KEY (offload_id) REFERENCES public.offloads_offload(run_id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_feed
    ADD CONSTRAINT offloads_feed_came_from_id_ea2032df_fk_stores_store_id FOREIGN KEY (came_from_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_feed
    ADD CONSTRAINT offloads_feed_copy_id_51098be0_fk_rolls_copy_id FOREIGN KEY (copy_id) REFERENCES public.rolls_copy(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_feed
    ADD CONSTRAINT offloads_feed_offload_id_83459ee3_fk_offloads_offload_run_id FOREIGN KEY (offload_id) REFERENCES public.offloads_offload(run_id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_feed
    ADD CONSTRAINT offloads_feed_run_id_278eb45f_fk_runs_run_id FOREIGN KEY (run_id) REFERENCES public.runs_run(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_join
    ADD CONSTRAINT offloads_join_run_id_88b4894c_fk_runs_run_id FOREIGN KEY (run_id) REFERENCES public.runs_run(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_offload
    ADD CONSTRAINT offloads_offload_card_id_3a038ab0_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_offload
    ADD CONSTRAINT offloads_offload_reader_id_c3f78c6a_fk_intake_reader_id FOREIGN KEY (reader_id) REFERENCES public.intake_reader(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_offload
    ADD CONSTRAINT offloads_offload_run_id_66c10918_fk_runs_run_id FOREIGN KEY (run_id) REFERENCES public.runs_run(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_offloadfinding
    ADD CONSTRAINT offloads_offloadfind_offload_id_4f77ab61_fk_offloads_ FOREIGN KEY (offload_id) REFERENCES public.offloads_offload(run_id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_offloadfinding
    ADD CONSTRAINT offloads_offloadfinding_store_id_3e47f336_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_pullseen
    ADD CONSTRAINT offloads_pullseen_offload_id_1e427291_fk_offloads_ FOREIGN KEY (offload_id) REFERENCES public.offloads_offload(run_id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_pullseen
    ADD CONSTRAINT offloads_pullseen_person_id_cc8f20a1_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.offloads_rollmemory
    ADD CONSTRAINT offloads_rollmemory_roll_id_a4f4fa3c_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.otp_totp_totpdevice
    ADD CONSTRAINT otp_totp_totpdevice_user_id_0fb18292_fk_crew_person_id FOREIGN KEY (user_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.pictures_decodingasked
    ADD CONSTRAINT pictures_decodingasked_by_id_c0b48b6d_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.pictures_decodingasked
    ADD CONSTRAINT pictures_decodingasked_roll_id_44b2549e_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.pictures_filedecoded
    ADD CONSTRAINT pictures_filedecoded_copy_id_572934be_fk_rolls_copy_id FOREIGN KEY (copy_id) REFERENCES public.rolls_copy(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.pictures_filedecoded
    ADD CONSTRAINT pictures_filedecoded_file_id_e7169e02_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.pictures_fileseen
    ADD CONSTRAINT pictures_fileseen_file_id_88caa4ff_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.pictures_picture
    ADD CONSTRAINT pictures_picture_file_id_563b2181_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.pictures_rollseen
    ADD CONSTRAINT pictures_rollseen_roll_id_f27f85d5_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.procrastinate_events
    ADD CONSTRAINT procrastinate_events_job_id_fkey FOREIGN KEY (job_id) REFERENCES public.procrastinate_jobs(id) ON DELETE CASCADE;
ALTER TABLE ONLY public.procrastinate_jobs
    ADD CONSTRAINT procrastinate_jobs_worker_id_fkey FOREIGN KEY (worker_id) REFERENCES public.procrastinate_workers(id) ON DELETE SET NULL;
ALTER TABLE ONLY public.procrastinate_periodic_defers
    ADD CONSTRAINT procrastinate_periodic_defers_job_id_fkey FOREIGN KEY (job_id) REFERENCES public.procrastinate_jobs(id);
ALTER TABLE ONLY public.productions_camera
    ADD CONSTRAINT productions_camera_plan_id_9dcd8492_fk_productions_plan_id FOREIGN KEY (plan_id) REFERENCES public.productions_plan(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_camera
    ADD CONSTRAINT productions_camera_production_id_de973a17_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_plan
    ADD CONSTRAINT productions_plan_production_id_6d9ef2dc_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_plan_stores
    ADD CONSTRAINT productions_plan_stores_plan_id_cf6d83be_fk_productions_plan_id FOREIGN KEY (plan_id) REFERENCES public.productions_plan(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_plan_stores
    ADD CONSTRAINT productions_plan_stores_store_id_19870e40_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_redundancyrule
    ADD CONSTRAINT productions_redundan_production_id_41f0ad46_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_rig_cameras
    ADD CONSTRAINT productions_rig_came_camera_id_6aeb1455_fk_productio FOREIGN KEY (camera_id) REFERENCES public.productions_camera(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_rig_cameras
    ADD CONSTRAINT productions_rig_cameras_rig_id_0209027f_fk_productions_rig_id FOREIGN KEY (rig_id) REFERENCES public.productions_rig(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_rig
    ADD CONSTRAINT productions_rig_production_id_b92b185b_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_rulechange
    ADD CONSTRAINT productions_rulechan_production_id_29db17cb_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_rulechange
    ADD CONSTRAINT productions_rulechange_person_id_ea41086a_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_unitaway
    ADD CONSTRAINT productions_unitaway_by_id_64d6f6fc_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.productions_unitaway
    ADD CONSTRAINT productions_unitaway_production_id_c74a73b0_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.returning_folderlook
    ADD CONSTRAINT returning_folderlook_person_id_af292d9c_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.returning_folderlook
    ADD CONSTRAINT returning_folderlook_production_id_99b8bb3e_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.returning_folderlook
    ADD CONSTRAINT returning_folderlook_station_id_dfc74580_fk_kit_station_id FOREIGN KEY (station_id) REFERENCES public.kit_station(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.returning_folderlook
    ADD CONSTRAINT returning_folderlook_stopped_by_id_967c09d3_fk_crew_person_id FOREIGN KEY (stopped_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.returning_folderrow
    ADD CONSTRAINT returning_folderrow_file_id_02c4410b_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.returning_folderrow
    ADD CONSTRAINT returning_folderrow_look_id_a4bbbb0b_fk_returning_folderlook_id FOREIGN KEY (look_id) REFERENCES public.returning_folderlook(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.returning_makingofcopies
    ADD CONSTRAINT returning_makingofcopies_run_id_b6d1480c_fk_runs_run_id FOREIGN KEY (run_id) REFERENCES public.runs_run(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.returning_return
    ADD CONSTRAINT returning_return_run_id_95ee0216_fk_runs_run_id FOREIGN KEY (run_id) REFERENCES public.runs_run(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.returning_takeaway
    ADD CONSTRAINT returning_takeaway_run_id_c9cf33d2_fk_runs_run_id FOREIGN KEY (run_id) REFERENCES public.runs_run(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_besidecopy
    ADD CONSTRAINT rolls_besidecopy_copy_id_6577000a_fk_rolls_copy_id FOREIGN KEY (copy_id) REFERENCES public.rolls_copy(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_clipopening
    ADD CONSTRAINT rolls_clipopening_file_id_600666bb_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_clipopening
    ADD CONSTRAINT rolls_clipopening_person_id_1c21d374_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_clipopening
    ADD CONSTRAINT rolls_clipopening_roll_id_bbd6722d_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_copy
    ADD CONSTRAINT rolls_copy_roll_id_f08e9ff9_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_copy
    ADD CONSTRAINT rolls_copy_store_id_ae4b99c8_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_copylook
    ADD CONSTRAINT rolls_copylook_copy_id_27b3ac56_fk_rolls_copy_id FOREIGN KEY (copy_id) REFERENCES public.rolls_copy(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_copysummary
    ADD CONSTRAINT rolls_copysummary_copy_id_927525f8_fk_rolls_copy_id FOREIGN KEY (copy_id) REFERENCES public.rolls_copy(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_delivery
    ADD CONSTRAINT rolls_delivery_person_id_1a687e1a_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_delivery
    ADD CONSTRAINT rolls_delivery_roll_id_08a9b0ef_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_delivery
    ADD CONSTRAINT rolls_delivery_withdrawn_by_id_cd2b9d3e_fk_crew_person_id FOREIGN KEY (withdrawn_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_filemedia
    ADD CONSTRAINT rolls_filemedia_file_id_f827efed_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_filemedia
    ADD CONSTRAINT rolls_filemedia_media_id_7a9c5065_fk_footage_media_id FOREIGN KEY (media_id) REFERENCES public.footage_media(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_filename
    ADD CONSTRAINT rolls_filename_file_id_00a478b1_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_filename
    ADD CONSTRAINT rolls_filename_roll_id_1ed157b2_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_leftbehind
    ADD CONSTRAINT rolls_leftbehind_person_id_369a1df3_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_leftbehind
    ADD CONSTRAINT rolls_leftbehind_roll_id_fa6d04da_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_leftbehind
    ADD CONSTRAINT rolls_leftbehind_take_id_a69179f8_fk_rolls_take_id FOREIGN KEY (take_id) REFERENCES public.rolls_take(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_reading
    ADD CONSTRAINT rolls_reading_copy_id_a8d064b9_fk_rolls_copy_id FOREIGN KEY (copy_id) REFERENCES public.rolls_copy(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_readingresult
    ADD CONSTRAINT rolls_readingresult_file_id_fe426d8a_fk_rolls_rollfile_id FOREIGN KEY (file_id) REFERENCES public.rolls_rollfile(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_readingresult
    ADD CONSTRAINT rolls_readingresult_reading_id_4d2ba7f0_fk_rolls_reading_id FOREIGN KEY (reading_id) REFERENCES public.rolls_reading(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_roll
    ADD CONSTRAINT rolls_roll_camera_id_500300c1_fk_productions_camera_id FOREIGN KEY (camera_id) REFERENCES public.productions_camera(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_roll
    ADD CONSTRAINT rolls_roll_card_id_5471ed8b_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_roll
    ADD CONSTRAINT rolls_roll_double_of_id_91a43f94_fk_rolls_roll_id FOREIGN KEY (double_of_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_roll
    ADD CONSTRAINT rolls_roll_production_id_9da98adc_fk_productions_production_id FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_rollfile
    ADD CONSTRAINT rolls_rollfile_roll_id_292b8d68_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_rollfile
    ADD CONSTRAINT rolls_rollfile_take_id_ee362df0_fk_rolls_take_id FOREIGN KEY (take_id) REFERENCES public.rolls_take(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_rollnamed
    ADD CONSTRAINT rolls_rollnamed_roll_id_0226e80a_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_rollsummary
    ADD CONSTRAINT rolls_rollsummary_roll_id_a5226ea8_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_take
    ADD CONSTRAINT rolls_take_listing_id_c583b387_fk_intake_cardlisting_id FOREIGN KEY (listing_id) REFERENCES public.intake_cardlisting(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_take
    ADD CONSTRAINT rolls_take_person_id_aef7bf82_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_take
    ADD CONSTRAINT rolls_take_roll_id_9823863b_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_waiver
    ADD CONSTRAINT rolls_waiver_card_id_b920f9aa_fk_intake_card_id FOREIGN KEY (card_id) REFERENCES public.intake_card(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_waiver
    ADD CONSTRAINT rolls_waiver_listing_id_4de0c091_fk_intake_cardlisting_id FOREIGN KEY (listing_id) REFERENCES public.intake_cardlisting(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_waiver
    ADD CONSTRAINT rolls_waiver_person_id_51a0b91c_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.rolls_waiver
    ADD CONSTRAINT rolls_waiver_roll_id_06703fd7_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.runs_run
    ADD CONSTRAINT runs_run_person_id_ab609438_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.runs_run
    ADD CONSTRAINT runs_run_roll_id_65549166_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.runs_run
    ADD CONSTRAINT runs_run_station_id_5df49566_fk_kit_station_id FOREIGN KEY (station_id) REFERENCES public.kit_station(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.sets_mediaset
    ADD CONSTRAINT sets_mediaset_by_id_a7b4efb5_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.sets_mediaset
    ADD CONSTRAINT sets_mediaset_production_id_7620cf8c_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.sets_mediavolume
    ADD CONSTRAINT sets_mediavolume_of_id_72140d99_fk_sets_mediaset_id FOREIGN KEY (of_id) REFERENCES public.sets_mediaset(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.sets_volumeroll
    ADD CONSTRAINT sets_volumeroll_roll_id_2d8ff883_fk_rolls_roll_id FOREIGN KEY (roll_id) REFERENCES public.rolls_roll(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.sets_volumeroll
    ADD CONSTRAINT sets_volumeroll_volume_id_8ffc3d8d_fk_sets_mediavolume_id FOREIGN KEY (volume_id) REFERENCES public.sets_mediavolume(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.shifts_handover
    ADD CONSTRAINT shifts_handover_by_id_076d46aa_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.shifts_handover
    ADD CONSTRAINT shifts_handover_production_id_50312998_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.shifts_matter
    ADD CONSTRAINT shifts_matter_accepted_by_id_d9a3a15b_fk_crew_person_id FOREIGN KEY (accepted_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.shifts_matter
    ADD CONSTRAINT shifts_matter_handover_id_29a3e98c_fk_shifts_handover_id FOREIGN KEY (handover_id) REFERENCES public.shifts_handover(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.stores_devicestatement
    ADD CONSTRAINT stores_devicestatement_person_id_56cf4a1c_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.stores_devicestatement
    ADD CONSTRAINT stores_devicestatement_store_id_49d7ca03_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.stores_ledgerbackup
    ADD CONSTRAINT stores_ledgerbackup_store_id_de77f477_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.stores_store
    ADD CONSTRAINT stores_store_device_id_d39c27cc_fk_kit_device_id FOREIGN KEY (device_id) REFERENCES public.kit_device(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.stores_store_productions
    ADD CONSTRAINT stores_store_product_production_id_faf784cb_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.stores_store_productions
    ADD CONSTRAINT stores_store_productions_store_id_d24e7866_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.stores_storesecret
    ADD CONSTRAINT stores_storesecret_given_by_id_dc001c93_fk_crew_person_id FOREIGN KEY (given_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.stores_storesecret
    ADD CONSTRAINT stores_storesecret_store_id_eccb83e9_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.stores_storesighting
    ADD CONSTRAINT stores_storesighting_station_id_16e09bb1_fk_kit_station_id FOREIGN KEY (station_id) REFERENCES public.kit_station(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.stores_storesighting
    ADD CONSTRAINT stores_storesighting_store_id_a9eeebcd_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.units_unitentry
    ADD CONSTRAINT units_unitentry_unit_id_ac5c1253_fk_productions_unitaway_id FOREIGN KEY (unit_id) REFERENCES public.productions_unitaway(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.units_unitjoin
    ADD CONSTRAINT units_unitjoin_by_id_6149d828_fk_crew_person_id FOREIGN KEY (by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.units_unitjoin
    ADD CONSTRAINT units_unitjoin_unit_id_11f53832_fk_productions_unitaway_id FOREIGN KEY (unit_id) REFERENCES public.productions_unitaway(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.units_unitrow
    ADD CONSTRAINT units_unitrow_unit_id_52624795_fk_productions_unitaway_id FOREIGN KEY (unit_id) REFERENCES public.productions_unitaway(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.units_unitsecret
    ADD CONSTRAINT units_unitsecret_unit_id_dbe2722c_fk_productions_unitaway_id FOREIGN KEY (unit_id) REFERENCES public.productions_unitaway(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.upkeep_care
    ADD CONSTRAINT upkeep_care_person_id_08b245bd_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.upkeep_care
    ADD CONSTRAINT upkeep_care_store_id_a59bf61c_fk_stores_store_id FOREIGN KEY (store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.upkeep_standingorder
    ADD CONSTRAINT upkeep_standingorder_from_place_id_6b327c59_fk_kit_location_id FOREIGN KEY (from_place_id) REFERENCES public.kit_location(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.upkeep_standingorder
    ADD CONSTRAINT upkeep_standingorder_from_store_id_00892be0_fk_stores_store_id FOREIGN KEY (from_store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.upkeep_standingorder
    ADD CONSTRAINT upkeep_standingorder_person_id_ab89a21e_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.upkeep_standingorder
    ADD CONSTRAINT upkeep_standingorder_production_id_67395745_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.upkeep_standingorder
    ADD CONSTRAINT upkeep_standingorder_to_store_id_eaeec4c6_fk_stores_store_id FOREIGN KEY (to_store_id) REFERENCES public.stores_store(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.upkeep_standingorder
    ADD CONSTRAINT upkeep_standingorder_withdrawn_by_id_925468d7_fk_crew_person_id FOREIGN KEY (withdrawn_by_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.views_lastlook
    ADD CONSTRAINT views_lastlook_person_id_3b92f7e5_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.views_lastlook
    ADD CONSTRAINT views_lastlook_production_id_89c61678_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.views_savedview
    ADD CONSTRAINT views_savedview_person_id_066d6ff3_fk_crew_person_id FOREIGN KEY (person_id) REFERENCES public.crew_person(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE ONLY public.views_savedview
    ADD CONSTRAINT views_savedview_production_id_c75c56f4_fk_productio FOREIGN KEY (production_id) REFERENCES public.productions_production(id) DEFERRABLE INITIALLY DEFERRED;

INSERT INTO public.django_migrations (app, name, applied) VALUES
('accounts', '0001_first', now()),
('adopting', '0001_initial', now()),
('adopting', '0002_comparisons', now()),
('adopting', '0003_comparing_by_content', now()),
('adopting', '0004_doubted', now()),
('auth', '0001_initial', now()),
('auth', '0002_alter_permission_name_max_length', now()),
('auth', '0003_alter_user_email_max_length', now()),
('auth', '0004_alter_user_username_opts', now()),
('auth', '0005_alter_user_last_login_null', now()),
('auth', '0006_require_contenttypes_0002', now()),
('auth', '0007_alter_validators_add_error_messages', now()),
('auth', '0008_alter_user_username_max_length', now()),
('auth', '0009_alter_user_last_name_max_length', now()),
('auth', '0010_alter_group_name_max_length', now()),
('auth', '0011_update_proxy_permissions', now()),
('auth', '0012_alter_user_first_name_max_length', now()),
('axes', '0001_initial', now()),
('axes', '0002_auto_20151217_2044', now()),
('axes', '0003_auto_20160322_0929', now()),
('axes', '0004_auto_20181024_1538', now()),
('axes', '0005_remove_accessattempt_trusted', now()),
('axes', '0006_remove_accesslog_trusted', now()),
('axes', '0007_alter_accessattempt_unique_together', now()),
('axes', '0008_accessfailurelog', now()),
('axes', '0009_add_session_hash', now()),
('axes', '0010_accessattemptexpiration', now()),
('camera_reports', '0001_reports', now()),
('camera_reports', '0002_words_are_found', now()),
('certificates', '0001_first', now()),
('checks', '0001_initial', now()),
('choosing', '0001_marks', now()),
('choosing', '0002_words_are_found', now()),
('clearing', '0001_initial', now()),
('clearing', '0002_holds_and_revocations', now()),
('clearing', '0003_handed_back_again', now()),
('clearing', '0004_units', now()),
('contenttypes', '0001_initial', now()),
('contenttypes', '0002_remove_content_type_name', now()),
('crew', '0001_initial', now()),
('crew', '0002_invitation', now()),
('crew', '0003_person_managers', now()),
('crew', '0004_roles_per_production', now()),
('crew', '0005_everybody_keeps_their_role', now()),
('crew', '0006_no_role_of_the_ledger', now()),
('crew', '0007_shared_screens', now()),
('days', '0001_days', now()),
('delivering', '0001_first', now()),
('delivering', '0002_consigned_until', now()),
('delivering', '0003_emblem', now()),
('footage', '0001_initial', now()),
('footage', '0002_gear', now()),
('intake', '0001_initial', now()),
('intake', '0002_notours', now()),
('intake', '0003_said_reader', now()),
('intake', '0004_errands', now()),
('intake', '0005_named_readers', now()),
('intake', '0006_closed_folders', now()),
('intake', '0007_cards_out_of_use', now()),
('intake', '0008_media_found', now()),
('intake', '0009_lost_and_broken', now()),
('intake', '0010_finals', now()),
('intake', '0011_older_fingerprints', now()),
('intake', '0012_names_are_watched_together', now()),
('journal', '0001_initial', now()),
('journal', '0002_append_only', now()),
('keywords', '0001_keywords', now()),
('kit', '0001_initial', now()),
('kit', '0002_stations_join', now()),
('kit', '0003_carried_by', now()),
('kit', '0004_custody', now()),
('kit', '0005_who_carries_keeps_it', now()),
('kit', '0006_not_a_field_of_devices', now()),
('kit', '0007_custody_after_stays', now()),
('kit', '0008_stays_of_what_was_said', now()),
('live', '0001_presence', now()),
('making_room', '0001_making_room', now()),
('news', '0001_news', now()),
('news', '0002_begun', now()),
('news', '0003_of_a_plan', now()),
('notes', '0001_notes', now()),
('notes', '0002_words_are_found', now()),
('offloads', '0001_initial', now()),
('offloads', '0002_offload_other_stores_pullseen', now()),
('offloads', '0003_naming_fleet', now()),
('offloads', '0004_offload_targets', now()),
('offloads', '0005_card_errors', now()),
('offloads', '0006_came_from', now()),
('offloads', '0007_after_run', now()),
('offloads', '0008_roll_memory', now()),
('otp_totp', '0001_initial', now()),
('otp_totp', '0002_auto_20190420_0723', now()),
('otp_totp', '0003_add_timestamps', now()),
('pictures', '0001_pictures', now()),
('pictures', '0002_rolls_seen', now()),
('pictures', '0003_decoding', now()),
('pictures', '0004_light_copies', now()),
('procrastinate', '0001_initial', now()),
('procrastinate', '0002_drop_started_at_column', now()),
('procrastinate', '0003_drop_started_at_column', now()),
('procrastinate', '0004_drop_procrastinate_version_table', now()),
('procrastinate', '0005_fix_procrastinate_fetch_job', now()),
('procrastinate', '0006_fix_trigger_status_events_insert', now()),
('procrastinate', '0007_add_queueing_lock_column', now()),
('procrastinate', '0008_close_fetch_job_race_condition', now()),
('procrastinate', '0009_add_defer_job_function', now()),
('procrastinate', '0010_add_procrastinate_periodic_defers', now()),
('procrastinate', '0011_add_foreign_key_index', now()),
('procrastinate', '0012_add_locks_to_periodic_defer', now()),
('procrastinate', '0013_fix_procrastinate_defer_periodic_job', now()),
('procrastinate', '0014_add_finish_job_and_retry_job_functions', now()),
('procrastinate', '0015_add_trigger_on_job_deletion', now()),
('procrastinate', '0016_delete_finished_jobs', now()),
('procrastinate', '0017_add_checks_to_finish_job', now()),
('procrastinate', '0018_add_checks_to_retry_job', now()),
('procrastinate', '0019_fix_finish_job_compat_issue', now()),
('procrastinate', '0020_add_index_on_procrastinate_jobs', now()),
('procrastinate', '0021_add_kwargs_to_defer_periodic_job', now()),
('procrastinate', '0022_null_locks_excluded', now()),
('procrastinate', '0023_remove_old_finish_job_function', now()),
('procrastinate', '0024_job_id_bigint', now()),
('procrastinate', '0025_add_models', now()),
('procrastinate', '0026_add_job_priority', now()),
('procrastinate', '0027_add_periodic_job_priority', now()),
('procrastinate', '0028_add_cancel_states', now()),
('procrastinate', '0029_add_additional_params_to_retry_job', now()),
('procrastinate', '0030_alter_procrastinateevent_options', now()),
('procrastinate', '0031_add_indexes_for_fetch_job', now()),
('procrastinate', '0032_pre_cancel_notification', now()),
('procrastinate', '0033_post_cancel_notification', now()),
('procrastinate', '0034_pre_add_heartbeat', now()),
('procrastinate', '0035_post_add_heartbeat', now()),
('procrastinate', '0036_add_worker_model', now()),
('procrastinate', '0037_pre_batch_defer_jobs', now()),
('procrastinate', '0038_post_batch_defer_jobs', now()),
('procrastinate', '0039_pre_priority_lock_fetch_job', now()),
('procrastinate', '0040_pre_retry_failed_job', now()),
('procrastinate', '0041_post_retry_failed_job', now()),
('productions', '0001_initial', now()),
('productions', '0002_plan_fleet', now()),
('productions', '0003_camera_clock', now()),
('productions', '0004_closed', now()),
('productions', '0005_rule_parts', now()),
('productions', '0006_removal_allowed', now()),
('productions', '0007_release_after', now()),
('productions', '0008_uuid', now()),
('productions', '0009_units', now()),
('productions', '0010_unit_secrets', now()),
('productions', '0011_decodes', now()),
('productions', '0012_plan_histories', now()),
('productions', '0013_plan_after', now()),
('returning', '0001_folders', now()),
('returning', '0002_moved', now()),
('returning', '0003_bags', now()),
('returning', '0004_beside', now()),
('rolls', '0001_initial', now()),
('rolls', '0002_facts_are_counted', now()),
('rolls', '0003_take_without_listing', now()),
('rolls', '0004_openings_and_deliveries', now()),
('rolls', '0005_openings_are_counted', now()),
('rolls', '0006_left_landing', now()),
('rolls', '0007_emptied_landing', now()),
('rolls', '0008_media_found', now()),
('rolls', '0009_names_are_found', now()),
('rolls', '0010_making_room', now()),
('rolls', '0011_older_fingerprints', now()),
('runs', '0001_initial', now()),
('runs', '0002_alter_run_end', now()),
('runs', '0003_removals', now()),
('runs', '0004_rate', now()),
('runs', '0005_returns', now()),
('runs', '0006_making_room', now()),
('sessions', '0001_initial', now()),
('sets', '0001_first', now()),
('shifts', '0001_shifts', now()),
('stores', '0001_initial', now()),
('stores', '0002_store_volume', now()),
('stores', '0003_ledger_backups', now()),
('stores', '0004_stores_on_servers', now()),
('stores', '0005_store_kinds', now()),
('stores', '0006_webdav', now()),
('stores', '0007_retired', now()),
('stores', '0008_stores_of_productions', now()),
('stores', '0009_every_store_everywhere', now()),
('stores', '0010_packages', now()),
('units', '0001_units', now()),
('units', '0002_unit_secrets', now()),
('upkeep', '0001_initial', now()),
('views', '0001_views', now()),
('views', '0002_questions', now());
