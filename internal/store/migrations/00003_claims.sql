-- +goose Up
-- A claim says what it states, and no longer which hypothesis it is.
update problem set settings = jsonb_set(settings #- '{claim,is}', '{claim,says}', to_jsonb(
    case
        when settings #>> '{claim,is}' = 'h0' then case settings->>'tail' when 'right' then 'at_most' when 'left' then 'at_least' else 'equal' end
        else case settings->>'tail' when 'right' then 'larger' when 'left' then 'smaller' else 'open' end
    end))
where settings->'claim' ? 'is' and not settings->'claim' ? 'says';

-- +goose Down
update problem set settings = jsonb_set(settings #- '{claim,says}', '{claim,is}', to_jsonb(
    case when settings #>> '{claim,says}' in ('equal', 'at_most', 'at_least') then 'h0' else 'h1' end))
where settings->'claim' ? 'says';
