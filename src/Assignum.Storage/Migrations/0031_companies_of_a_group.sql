-- Makes possible: accounts that go to two accounts of the group's chart, one for each side, translated by a rate of their own; and a company of the group as a
-- connection, whose lists and documents come from its own books.

alter table account_description add group_credit_account_id integer, add translation text check (translation in ('closing', 'average', 'historical')),
    add foreign key (group_company_id, group_credit_account_id) references account (company_id, id);
create index account_description_by_group_credit on account_description (group_company_id, group_credit_account_id) where group_credit_account_id is not null;

alter table connection add partner_company_id integer references company;
create unique index connection_of_partner on connection (company_id, partner_company_id) where partner_company_id is not null;
