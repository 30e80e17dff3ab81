-- Makes possible: ledger lines that show the text of their document before that of their line.

alter table company_option add column line_text text not null default 'line' check (line_text in ('line', 'document'));
