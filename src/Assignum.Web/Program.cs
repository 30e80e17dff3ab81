using System.Globalization;
using Assignum.Storage;
using Assignum.Storage.Charts;
using Assignum.Storage.Closing;
using Assignum.Storage.Companies;
using Assignum.Storage.Finding;
using Assignum.Storage.HeldEvents;
using Assignum.Storage.Jobs;
using Assignum.Storage.Journal;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Assignum.Storage.Proving;
using Assignum.Storage.Settings;
using Assignum.Storage.Subledgers;
using Assignum.Storage.Uploads;
using Assignum.Web.Access;
using Assignum.Web.Api;
using Assignum.Web.Connections;
using Assignum.Web.Demo;
using Assignum.Web.Jobs;
using Assignum.Web.Pages.Chart;
using Assignum.Web.Pages.Groups;
using Assignum.Web.Pages.Rules;
using Assignum.Web.Sending;
using Assignum.Web.Trails;
using Assignum.Web.Watching;
using Microsoft.AspNetCore.Diagnostics.HealthChecks;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Identity;
using Npgsql;

CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = Assignum.Core.Written.Plain;
var builder = WebApplication.CreateBuilder(args);
// An application run from its build folder finds its assets through the manifest, in every environment.
builder.WebHost.UseStaticWebAssets();
builder.WebHost.ConfigureKestrel(kestrel => (kestrel.AddServerHeader, kestrel.Limits.MaxRequestBodySize) = (false, FormSizes.LargestForm));
builder.AddWatching();

// The application's own sign-in; migrations are the owner's (./assignum migrate).
var database = builder.Configuration["ASSIGNUM_DB"]
    ?? throw new InvalidOperationException("ASSIGNUM_DB is not set. Give it a connection string of PostgreSQL, or start with ./run.");
builder.Services.AddSingleton(_ => Database.Open(database));
builder.Services.AddSingleton<CompanyStore>().AddSingleton<PersonStore>().AddSingleton<SessionStore>().AddSingleton<ProtectionKeyStore>()
    .AddSingleton<Draft>().AddSingleton<RulebookStore>().AddSingleton<RulebookImport>().AddSingleton<EditionStore>()
    .AddSingleton<ChartStore>().AddSingleton<AccountStore>().AddSingleton<BalanceStore>().AddSingleton<MergeStore>()
    .AddSingleton<NumberingStore>().AddSingleton<DimensionStore>()
    .AddSingleton<ChartImportStore>().AddSingleton<MappingStore>().AddSingleton<PanelMaker>().AddSingleton<JobStore>().AddSingleton<IJobWork,
        ChartImportWork>().AddSingleton<IJobWork, SheetReading>().AddSingleton<IJobWork, Assignum.Web.Pages.Events.EventFileWork>().AddSingleton<IJobWork,
        MemberSheetWork>().AddSingleton<MemberSheetStore>().AddHostedService<JobWorker>()
    .AddSingleton<GroupStore>().AddSingleton<GroupShapes>().AddSingleton<RuleStore>().AddSingleton<RuleCells>().AddSingleton<LadderStore>()
    .AddSingleton<DraftStore>().AddSingleton<TaxStore>().AddSingleton<RulebookIntoDraft>().AddSingleton<Coverages>().AddSingleton<UploadStore>()
    .AddSingleton<RulebookCache>().AddSingleton<PostingStore>()
    .AddSingleton<JournalStore>().AddSingleton<FlowStore>().AddSingleton<ChainStore>().AddSingleton<AttachmentStore>().AddSingleton<TimingStore>()
    .AddSingleton<Assignum.Storage.Controls.ControlStore>().AddSingleton<OpenItemStore>().AddSingleton<StockStore>().AddSingleton<TermsStore>()
    .AddSingleton<StandingStore>().AddSingleton<KeptJournalStore>().AddSingleton<WaitingJournalStore>()
    .AddSingleton<PeriodStore>().AddSingleton<YearEndStore>().AddSingleton<HeldStore>().AddSingleton<Retrying>()
    .AddSingleton<IJobWork, Assignum.Web.Pages.HeldEvents.RetryHeldWork>().AddSingleton<Assignum.Web.Pages.HeldEvents.FixLook>().AddSingleton<BooksVerifying>()
    .AddSingleton<Assignum.Storage.Reports.ReportStore>().AddSingleton<RevaluationStore>()
    .AddSingleton<Assignum.Storage.Projects.ProjectStore>().AddSingleton<Assignum.Storage.Assets.AssetStore>().AddSingleton<Assignum.Storage.LateCharges
        .LateChargeStore>().AddSingleton<MonthEndStore>().AddSingleton<Assignum.Storage.Consolidating.GroupChartStore>()
        .AddSingleton<DeskStore>()
        .AddSingleton<Assignum.Web.Pages.MonthEnd.ClosingLines>()
    .AddSingleton<PracticeStore>().AddSingleton<IJobWork, Assignum.Web.Pages.Companies.PracticeWork>()
    .AddSingleton<Assignum.Storage.Rates.RateStore>()
    .AddSingleton<SeenStore>().AddSingleton<FormerCodes>().AddSingleton<TaxEntryStore>().AddSingleton<FindStore>()
    .AddSingleton<TrailMaker>().AddSingleton<Assignum.Storage.Checks.AcceptedFindings>().AddSingleton<StandingStock>()
    .AddSingleton<Assignum.Web.Pages.Groups.StockLeft>().AddSingleton(TimeProvider.System)
    .AddSingleton<DemoCompany>().AddSingleton<DemoClosing>().AddSingleton<DemoLandscapes>().AddHostedService<DemoYear>()
    .AddSingleton<DemoCharts>().AddSingleton<IPasswordHasher<Person>, PasswordHasher<Person>>();

builder.Services.AddProtectionKeys(builder.Configuration);
builder.Services.AddSignIn(builder.Configuration);
builder.Services.AddConnections(builder.Configuration);
builder.Services.AddApi();
builder.Services.AddLimits(builder.Configuration);
builder.Services.AddTransport(builder.Configuration);
builder.Services.AddRazorPages().AddMvcOptions(mvc =>
{
    mvc.Filters.Add<HandlerAccess>(int.MinValue);
    mvc.ModelBinderProviders.Insert(0, new DayBinderProvider());
    (mvc.MaxModelBindingCollectionSize, mvc.MaxModelValidationErrors) = (FormSizes.MostValues, 50);
});
builder.Services.Configure<FormOptions>(form =>
    (form.ValueCountLimit, form.KeyLengthLimit, form.ValueLengthLimit) = (FormSizes.MostValues, FormSizes.LongestKey, FormSizes.LongestValue));
builder.Services.AddAntiforgery(forgery =>
    (forgery.Cookie.Name, forgery.Cookie.SecurePolicy) = ("assignum.form", Transport.IsHttps(builder.Configuration) ? CookieSecurePolicy.Always
    : CookieSecurePolicy.SameAsRequest));

var app = builder.Build();
if (await Database.WhyNot(app.Services.GetRequiredService<NpgsqlDataSource>(), CancellationToken.None) is { } why)
    throw new InvalidOperationException(why);
if (builder.Configuration["ASSIGNUM_DEMO"] is { Length: > 0 } demo)
    await app.Services.GetRequiredService<DemoCompany>().Make(demo, app.Configuration["ASSIGNUM_DEMO_YEAR"] is { Length: > 0 } year ? year : null,
        CancellationToken.None);

app.UseTransport();
app.UseSecurityHeaders();
app.UseExceptionHandler("/error");
app.UseStatusCodePages(WhatWentWrong.Show);
app.UseDatabaseAway();
app.UseRouting();
app.UseWatching();
app.UseAuthentication();
// Whoever asks reads and types numbers and dates in their own way.
app.Use((http, next) =>
{
    var likes = http.User.Likes();
    CultureInfo.CurrentCulture = Assignum.Core.Written.Of(likes.Numbers, likes.Dates);
    return next(http);
});
app.UseRateLimiter();
app.UseAuthorization();
app.UseSentText();
// Files and the sign of life ask nobody who is there, and nothing of the database.
app.MapStaticAssets().ShortCircuit().AllowAnonymous();
app.MapRazorPages();
app.MapApi();
// Browsers ask for it beside whatever is no page: a file, a sign of life.
app.MapGet("/favicon.ico", () => Results.Redirect("/mark.svg", permanent: true)).ShortCircuit().AllowAnonymous();
app.MapGet("/health/live", () => "live").ShortCircuit().AllowAnonymous();
app.MapHealthChecks("/health/ready", new HealthCheckOptions { Predicate = check => check.Tags.Contains("ready") }).ShortCircuit().AllowAnonymous();
await app.RunAsync();

/// <summary>Named for tests that start the application.</summary>
public partial class Program;
