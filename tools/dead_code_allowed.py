"""Names that nothing in Python calls, and why each stays: `make lint` looks for dead code and passes these over."""

from chirotend.services import words
from chirotend.services.kit.equipment_bench import knobs

# read by templates, as fields of what a service returns
templates = words
templates.trend_numbers, templates.CALL_DYNAMICS, templates.EASED_WORDS, templates.USES_WORDS
fields = knobs
(
    fields.all_tags,
    fields.heights_in_numbers,
    fields.heights_phone,
    fields.heights_wide,
    fields.on_sticks,
    fields.day_off,
    fields.growable,
    fields.heads,
    fields.last_day,
    fields.last_kept,
    fields.looked_utc,
    fields.per_day,
    fields.room_open,
)
fields.after_open, fields.days_over, fields.grip_drawn, fields.is_visit, fields.limit_played, fields.more_matters
fields.over_limit, fields.posture_drawn, fields.tell_a_parent
fields.tablet, fields.this_week, fields.today_letter, fields.usual_low, fields.was_share
fields.views, fields.invitation, fields.lines, fields.designs_wide, fields.designs_phone, fields.designs_in_words

# answers of hers: written by name from a form, read by name in templates and in the rules that leave things out
fields.camera, fields.chair, fields.cold_intolerance, fields.dominant, fields.injuries, fields.light
fields.little_left, fields.little_right, fields.mirror, fields.pregnant, fields.recent_operation, fields.thin_bones
fields.under_16

# answers about a diary: read by the name of the question
fields.unsaid_kind, fields.unsaid_place

# fields of the record: written, read and checked by their names
fields.tempo_bpm

# answers about a diary: written by name from a form, read by name where they are asked
fields.doubles, fields.strength_of, fields.unsaid_side, fields.unsaid_strength, fields.meanings

# set on or called by the libraries they are made for
fields.isolation_level, fields.request_class, fields.max_content_length, fields.lstrip_blocks, fields.trim_blocks
fields.sslsocket_class, fields.minimum_version, fields.max_request_body_size, fields.max_request_header_size
fields.ssl_adapter, fields.get_id, fields.permanent, fields.login_view, fields.without_database
fields.handle_starttag, fields.impatient
# named in templates only
fields.about

# what is said of a probe, read by templates
(
    fields.dies,
    fields.remedy,
    fields.caption,
    fields.first_round,
    fields.last_round,
    fields.value_words,
    fields.gaps_pct,
)
# a limit of Pillow's that is looked at in our own words instead; the colours of a film
fields.MAX_IMAGE_PIXELS, fields.pix_fmt
# what is read of two spans side by side, by its template
(fields.drawing,)
# what the standard library's reader of pages calls by name
fields.handle_endtag, fields.handle_data
# what is said of the first days, read by templates
fields.day_one, fields.asked_now, fields.reached
# where to let go in a part, read by templates
fields.let_go_in_rests, fields.let_go_in_notes
# whether what happened asks for minutes that were allowed, read by a template
(fields.asks_minutes,)
# where a title stands on a sheet, read by a template
(fields.title_at,)
# what stands above the score, and what a warm-up never has for an instrument, read by templates
fields.titled_beside, fields.only_words, fields.not_for_it

# a switch of another package, set back
fields.LOAD_TRUNCATED_IMAGES
# how Flask is told who keeps the sessions of browsers
(fields.session_interface,)
# how many may wait to be read apart, asked by the standard library
(fields.request_queue_size,)

# what templates of tests are made with
(fields.undefined,)
